import { HOUR, type Millis } from '../shared/instant';
import type { Answer } from './read-answer';

/** What became of one question. `left-open` was still unanswered when nothing more was asked. */
export type Outcome = 'answered' | 'skipped' | 'unreadable' | 'silent';

export interface OpenQuestion {
  /** How often it was asked: once, or once more in other words. */
  times: 1 | 2;
}

/** What follows on a reply to the open question, or on silence. */
export type Next =
  /** It is settled; the next one follows, if there is one. */
  | { do: 'settle'; outcome: Outcome; waiting: boolean }
  /** Asked once more, in other words; `missing`: only that. */
  | { do: 'again'; missing: 'year' | null }
  /** It was no answer: it stays open, and a human reads what they wrote. */
  | { do: 'wait' }
  /** Nothing more is asked by text. */
  | { do: 'stop' };

/** Nobody is asked a third time. */
export function afterAnswer({ times }: OpenQuestion, answer: Answer): Next {
  switch (answer.is) {
    case 'value':
    case 'own':
      return { do: 'settle', outcome: 'answered', waiting: false };
    case 'skip':
      return { do: 'settle', outcome: 'skipped', waiting: false };
    case 'partial':
      return times === 1
        ? { do: 'again', missing: 'year' }
        : { do: 'settle', outcome: 'unreadable', waiting: true };
    case 'unreadable':
      return times === 1
        ? { do: 'again', missing: null }
        : { do: 'settle', outcome: 'unreadable', waiting: true };
    case 'other':
      return { do: 'wait' };
  }
}

export const afterSilence = ({ times }: OpenQuestion): Next =>
  times === 1 ? { do: 'again', missing: null } : { do: 'stop' };

/** So long an answer is waited for: a day, and two more once it was asked again. */
export const patienceOf = (times: 1 | 2): Millis => (times === 1 ? 24 * HOUR : 48 * HOUR);
