import type { AccountState } from '../chat/network';
import type { WordingState } from '../chat/wording-life';
import type { Consent } from '../consent/ledger';
import type { Purse } from '../credits/purse';
import type { Channel } from '../message/channel';
import type { MessageKind } from '../message/kinds';
import type { AddressState, LineType } from '../people/address';
import type { Place } from '../phone/place';
import type { Millis } from '../shared/instant';
import type { OwnHours } from './hours';
import type { SenderNumber } from './sender';

/** Where the message would go: the address that speaks for the person, or the one it was queued for. */
export interface ClearanceAddress {
  value: string;
  state: AddressState;
  lineType: LineType;
  /** It was found to have no voicemail; left out: not as far as is known. */
  noVoicemail?: boolean;
}

export interface ClearancePerson {
  /** Null: they have none that the channel reaches. */
  address: ClearanceAddress | null;
  place: Place;
  /** Two letters, ISO 3166. */
  country: string;
  /** Since when a reply of theirs waits for a human to say whether it was an opt-out; null: none does. */
  unclearSince: Millis | null;
  /** Since when a text of theirs waits that could not be worked on, and may be a STOP; null: none does. */
  unreadSince: Millis | null;
  /** They wished to hear nothing until then; past, or null: no such wish. */
  pausedUntil: Millis | null;
  /** When they last wrote; null: never. */
  lastWroteAt: Millis | null;
}

export interface ClearanceProgram {
  id: string;
  purpose: 'marketing' | 'recurring' | 'utility' | 'inquiry';
  archived: boolean;
  /** The promised frequency; null: no number was promised. */
  promise: { count: number; period: 'week' | 'month' } | null;
  hours: OwnHours | null;
}

/** A text that went to this person, or is on its way. */
export interface PastText {
  at: Millis;
  programId: string;
  kind: MessageKind;
  bodyHash: string;
}

export interface ClearanceInput {
  kind: MessageKind;
  channel: Channel;
  at: Millis;
  person: ClearancePerson;
  program: ClearanceProgram;
  /** What that address told the program on this channel. */
  consent: Consent;
  /** Whether they are in the program by another channel. */
  memberElsewhere: boolean;
  /** Texts of the last 30 days; and, whatever their age, those with the same body. Without this text itself. */
  past: readonly PastText[];
  /** Null where the wording is not known yet (a question about a person alone). */
  text: {
    bodyHash: string;
    parts: number;
    emptyFields: readonly string[];
    credits: number;
    /** It goes as a picture message; left out: it does not. */
    pictures?: boolean;
  } | null;
  senders: readonly SenderNumber[];
  assignedSenderId: string | null;
  /** What there is to be spent before it. */
  purse: Purse;
  /** Most texts in seven days over all programs; null: no cap. */
  weeklyCap: number | null;
  /** When the send this belongs to began; null: it begins now (a preview, a question). Holds are counted from here. */
  began: Millis | null;
  /** How much longer than usual it may be held, because somebody chose days for it; left out: not longer. */
  stretch?: Millis;
  /** The address the message was queued for; null: it goes to whatever address they have. */
  queuedFor: string | null;
  /** What mail leaves with; asked of e-mail only. */
  mail: MailSender | null;
  /** What a chat leaves by; asked of chat only. */
  chat: ChatSender | null;
  /** What a voicemail leaves by; asked of voicemail only. */
  voicemail: VoicemailSender | null;
}

/** Who leaves the voicemail, and who it is from. */
export interface VoicemailSender {
  /** Null: no account is connected. */
  account: 'open' | 'closed' | null;
  /** The program has a number that can be called back. */
  callable: boolean;
}

/** The account a chat message leaves from, and how things stand with this person. */
export interface ChatSender {
  /** Null: none is connected. */
  account: { id: string; state: AccountState } | null;
  /** When they last wrote to it, and when we last began a conversation; null: never. */
  wroteAt: Millis | null;
  begunAt: Millis | null;
  /** People it may begin with a day, and how many are left of them now; null: as many as it likes. */
  beginLimit: number | null;
  beginsLeft: number;
  /** Those who stand before this one with a conversation to begin. */
  ahead: number;
  /** How its template stands; null: it is words of our own. */
  template: WordingState | null;
}

/** Who an e-mail is from. */
export interface MailSender {
  from: string | null;
  postalAddress: string | null;
}
