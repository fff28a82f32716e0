import { HOUR, MINUTE, SECOND, type Millis } from '../shared/instant';

/** Why a text failed, whoever said so: the answer to a submit, or a receipt. */
export type FailureReason =
  | 'throttled'
  | 'carrier-busy'
  | 'carrier-error'
  | 'unreachable'
  | 'number-unknown'
  | 'landline'
  | 'spam-blocked'
  | 'carrier-opt-out'
  | 'sender-refused'
  | 'refused'
  | 'too-long'
  | 'unwritable'
  | 'picture-refused'
  | 'no-pictures'
  | 'mailbox-gone'
  | 'mailbox-full'
  | 'mailbox-later'
  | 'mail-refused'
  | 'chat-unknown'
  | 'chat-blocked'
  | 'window-closed'
  | 'template-refused'
  | 'begin-limit'
  | 'network-busy'
  | 'chat-refused'
  | 'box-full'
  | 'answered'
  | 'no-voicemail'
  | 'voicemail-refused'
  | 'voicemail-busy'
  | 'recording-refused';

/** What follows from a failure, besides the text itself. */
export interface Consequence {
  /** The first pause before it is tried again; false: it is not. */
  retry: Millis | false;
  /** What it does to the person or their number. */
  person:
    | 'nothing'
    | 'count-unreachable'
    | 'number-gone'
    | 'landline'
    | 'no-pictures'
    /** There is no box behind the number. */
    | 'no-voicemail'
    | 'opt-out'
    | 'bounced'
    /** Nobody is reached there any more: what was agreed to at it lapses. */
    | 'address-gone'
    /** They blocked us there, which is an opt-out of the channel. */
    | 'blocked';
  /** What it does to the sender number. */
  sender: 'nothing' | 'slow-down' | 'standing' | 'hold';
}

export const CONSEQUENCES: Record<FailureReason, Consequence> = {
  throttled: { retry: SECOND, person: 'nothing', sender: 'slow-down' },
  'carrier-busy': { retry: SECOND, person: 'nothing', sender: 'slow-down' },
  'carrier-error': { retry: SECOND, person: 'nothing', sender: 'slow-down' },
  unreachable: { retry: false, person: 'count-unreachable', sender: 'nothing' },
  'number-unknown': { retry: false, person: 'number-gone', sender: 'nothing' },
  landline: { retry: false, person: 'landline', sender: 'nothing' },
  'spam-blocked': { retry: false, person: 'nothing', sender: 'standing' },
  'carrier-opt-out': { retry: false, person: 'opt-out', sender: 'nothing' },
  'sender-refused': { retry: false, person: 'nothing', sender: 'hold' },
  refused: { retry: false, person: 'nothing', sender: 'nothing' },
  'too-long': { retry: false, person: 'nothing', sender: 'nothing' },
  unwritable: { retry: false, person: 'nothing', sender: 'nothing' },
  'picture-refused': { retry: false, person: 'nothing', sender: 'nothing' },
  'no-pictures': { retry: false, person: 'no-pictures', sender: 'nothing' },
  'mailbox-gone': { retry: false, person: 'bounced', sender: 'nothing' },
  'mailbox-full': { retry: false, person: 'count-unreachable', sender: 'nothing' },
  // A server that greylists takes nothing for some minutes.
  'mailbox-later': { retry: 2 * MINUTE, person: 'nothing', sender: 'nothing' },
  'mail-refused': { retry: false, person: 'nothing', sender: 'nothing' },
  'chat-unknown': { retry: false, person: 'address-gone', sender: 'nothing' },
  'chat-blocked': { retry: false, person: 'blocked', sender: 'nothing' },
  'window-closed': { retry: false, person: 'nothing', sender: 'nothing' },
  // Withdrawn or paused since it was cleared: the network is asked how it stands, and clearance then holds or blocks the rest.
  'template-refused': { retry: MINUTE, person: 'nothing', sender: 'nothing' },
  // The network counts differently from us, or somebody else begins with people from this account.
  'begin-limit': { retry: 30 * MINUTE, person: 'nothing', sender: 'nothing' },
  'network-busy': { retry: 2 * SECOND, person: 'nothing', sender: 'nothing' },
  'chat-refused': { retry: false, person: 'nothing', sender: 'nothing' },
  // None of these is tried again by itself: it would ring a second time.
  'box-full': { retry: false, person: 'nothing', sender: 'nothing' },
  answered: { retry: false, person: 'nothing', sender: 'nothing' },
  'no-voicemail': { retry: false, person: 'no-voicemail', sender: 'nothing' },
  'voicemail-refused': { retry: false, person: 'nothing', sender: 'nothing' },
  // It was not tried.
  'voicemail-busy': { retry: 2 * SECOND, person: 'nothing', sender: 'nothing' },
  'recording-refused': { retry: false, person: 'nothing', sender: 'nothing' },
};

export const FAILURE_WORDS: Record<FailureReason, string> = {
  throttled: 'the carrier asked to slow down',
  'carrier-busy': 'the carrier’s queue is full',
  'carrier-error': 'the carrier had an error of its own',
  unreachable: 'phone off or out of reach',
  'number-unknown': 'number not in service',
  landline: 'landline, cannot get texts',
  'spam-blocked': 'blocked as spam by the carrier',
  'carrier-opt-out': 'opted out at the carrier',
  'sender-refused': 'the carrier does not accept this sender number',
  refused: 'refused by the carrier',
  'too-long': 'too long for the carrier',
  unwritable: 'this carrier has no letters for it',
  'picture-refused': 'the relay does not take these files',
  'no-pictures': 'their phone takes no picture messages',
  'mailbox-gone': 'no such mailbox',
  'mailbox-full': 'mailbox full',
  'mailbox-later': 'their mail server was busy',
  'mail-refused': 'refused by their mail server',
  'chat-unknown': 'nobody has this chat id',
  'chat-blocked': 'they blocked us in the chat',
  'window-closed': 'the window of 24 hours had closed',
  'template-refused': 'the network does not take this template any more',
  'begin-limit': 'the network begins with no more people today',
  'network-busy': 'the chat network was busy',
  'chat-refused': 'refused by the chat network',
  'box-full': 'their voicemail is full',
  answered: 'they answered, and nothing was played',
  'no-voicemail': 'no voicemail behind this number',
  'voicemail-refused': 'their carrier takes no voicemail from outside',
  'voicemail-busy': 'the voicemail account was busy',
  'recording-refused': 'the voicemail account does not take this recording',
};

export const MOST_ATTEMPTS = 6;

/**
 * When to try again: after the first pause, then four times as long each time, up to an hour, with up to half as much again by chance so that texts
 * refused together do not come back together. Null: no more. `chance` is in [0, 1).
 */
export function retryAfter(reason: FailureReason, attempts: number, chance: number): Millis | null {
  const { retry } = CONSEQUENCES[reason];
  if (retry === false || attempts >= MOST_ATTEMPTS) return null;
  const base = Math.min(retry * 4 ** (attempts - 1), HOUR);
  return Math.round(base * (1 + chance / 2));
}

/** How long the carrier may keep trying to reach a phone before it must report a failure. */
export const VALIDITY: Millis = 4 * HOUR;

/** Time beyond the validity in which the last receipt must have come. */
export const RECEIPT_MARGIN: Millis = 10 * MINUTE;
