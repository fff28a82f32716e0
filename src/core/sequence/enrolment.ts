import type { Millis } from '../shared/instant';
import type { Act } from './document';

/**
 * Somebody's way through a sequence.
 *
 *            ┌───────── moment comes ─────────┐
 *   (begun) ─> waiting ── a message is queued ──> sending ── it left, or is passed over ──> waiting
 *                 │                                  │
 *                 └── end, or something that ends it ┴──> ended
 *
 * `waiting` has a next line and the instant at which it is due; `sending` has a message that was queued and has not
 * left. Nothing else moves it on, so a message held over night holds what is counted from it.
 */
export interface Enrolment {
  id: string;
  state: EnrolmentState;
  began: Millis;
  /** Begun by an act of their own: the first line, when it comes at once, is an answer to it. */
  prompted: boolean;
  /** The line that is next, or being sent; null once it is over. */
  line: string | null;
  /** When the line became the next. */
  arrived: Millis;
  /** When it is looked at again; null: something else has to happen first. */
  due: Millis | null;
  /** When the line before happened. */
  before: Millis;
  /** When the last of its messages left; null: none has. */
  left: Millis | null;
  /** When they last did each act while in it. */
  acted: Partial<Record<Act, Millis>>;
  /** Nothing before this instant: held by hand, or in its grace. */
  notBefore: Millis | null;
  /** The field that the next reply answers; null: no question is open. */
  asks: string | null;
  ended: Ended | null;
}

export type EnrolmentState = 'waiting' | 'sending' | 'ended';
export type EnrolmentEvent = 'queue' | 'settle' | 'end';

export const ENROLMENT_TRANSITIONS: Record<
  EnrolmentState,
  Partial<Record<EnrolmentEvent, EnrolmentState>>
> = {
  waiting: { queue: 'sending', end: 'ended' },
  sending: { settle: 'waiting', end: 'ended' },
  ended: {},
};

/** Why it is over. */
export type EndReason =
  | 'through'
  | 'replied'
  | 'opted-out'
  | 'stage'
  | 'tag'
  | 'field'
  | 'date'
  | 'taken-out'
  | 'called-back'
  | 'stopped'
  | 'began-anew'
  | 'merged';

export interface Ended {
  at: Millis;
  why: EndReason;
}

export const END_WORDS: Record<EndReason, string> = {
  through: 'came to the end',
  replied: 'replied',
  'opted-out': 'left the program',
  stage: 'reached a stage that ends it',
  tag: 'got a tag that ends it',
  field: 'a field got a value that ends it',
  date: 'a date of theirs passed',
  'taken-out': 'taken out by hand',
  'called-back': 'called back in its grace',
  stopped: 'the sequence was ended for all',
  'began-anew': 'began again from the first line',
  merged: 'merged with somebody who is in it',
};

/** Why a line was passed over: reasons of clearance, and these. */
export type PassReason =
  | 'off'
  | 'late'
  | 'no-date'
  | 'skipped'
  | 'called-back'
  | 'no-column'
  | 'gone'
  | 'elsewhere';

export const PASS_WORDS: Record<PassReason, string> = {
  off: 'switched off',
  late: 'its moment had passed',
  'no-date': 'the date it hangs on is empty',
  skipped: 'skipped by hand',
  'called-back': 'called back before it left',
  'no-column': 'no column fitted',
  gone: 'what it needs is gone',
  elsewhere: 'may have gone before this copy was restored',
};

export const begin = (
  id: string,
  { at, prompted, notBefore }: { at: Millis; prompted: boolean; notBefore: Millis | null },
): Enrolment => ({
  id,
  state: 'waiting',
  began: at,
  prompted,
  line: null,
  arrived: at,
  due: null,
  before: at,
  left: null,
  acted: {},
  notBefore,
  asks: null,
  ended: null,
});
