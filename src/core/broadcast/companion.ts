import { MINUTE, type Millis } from '../shared/instant';
import type { Channel } from '../message/channel';
import type { TextState } from '../delivery/lifecycle';
import type { InsteadChannel } from './instead';

/**
 * A text or a letter that belongs to a broadcast by another channel and is told to each person before or after it: "we
 * leave you a voicemail this afternoon", "I have just left you one; here is the address". Unicode MessageFormat 2.
 *
 * It is a broadcast of its own, with clearance, results and a stop of its own, and begins with the one it belongs to. Who
 * of the two has which turn stands here; `services/sends/companion.ts` asks it for many at once.
 */
export interface Companion {
  when: 'before' | 'after';
  /** Between the two, for each person. */
  minutes: number;
  channel: InsteadChannel;
  /** Of a letter; empty else. */
  subject: string;
  body: string;
}

/** Beside what something may be told, and by what. */
export const COMPANION_OF: Record<Channel, readonly InsteadChannel[]> = {
  ...{ sms: [], chat: [], email: [] },
  voicemail: ['sms', 'email'],
};

/** A call that was told of comes within the hours that were told of; what follows it follows the same day or the next. */
export const MOST_MINUTES: Record<Companion['when'], number> = { before: 240, after: 2_880 };

/** What is to be done with a message that waits for the other one of the two. */
export type CompanionTurn = { go: Millis } | 'waits' | 'never';

/** The other of two messages to one person. */
export interface OtherMessage {
  state: TextState;
  /** The pace of its broadcast let it have its turn, and it waits for the one that asks. */
  hasTurn: boolean;
  /** When it left. */
  submittedAt: Millis | null;
  /** When it was told what became of it. */
  settledAt: Millis | null;
}

/**
 * The turn of what follows a voicemail; null: there is none. It goes where one was left, and speaks of nothing that nobody
 * heard: what was not left, or of which nobody knows, is followed by nothing.
 */
export function turnAfter(voicemail: OtherMessage | null, minutes: number, at: Millis): CompanionTurn {
  switch (voicemail?.state) {
    case 'queued':
    case 'submitting':
    case 'submitted':
    case 'unconfirmed':
      return 'waits';
    case 'delivered':
      return { go: Math.max(at, (voicemail.settledAt ?? at) + minutes * MINUTE) };
    default:
      return 'never';
  }
}

/** The turn of what tells of a voicemail that comes: with the voicemail's own, and with none where none is left. */
export const turnOfTelling = (voicemail: OtherMessage | null, at: Millis): CompanionTurn =>
  voicemail?.state !== 'queued' ? 'never' : voicemail.hasTurn ? { go: at } : 'waits';

/**
 * The turn of a voicemail that is told of. It comes so long after what tells of it has left; who may not be told, or was
 * told in vain, is called all the same.
 */
export function turnOfTold(told: OtherMessage | null, minutes: number, at: Millis): CompanionTurn {
  switch (told?.state) {
    case 'queued':
    case 'submitting':
      return 'waits';
    case undefined:
    case 'blocked':
    case 'cancelled':
      return { go: at };
    default:
      return told!.submittedAt === null && told!.state === 'failed'
        ? { go: at }
        : { go: Math.max(at, (told!.submittedAt ?? at) + minutes * MINUTE) };
  }
}
