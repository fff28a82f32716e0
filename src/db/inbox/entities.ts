import type { WaitsWhy } from '@/core/inbox/waiting';
import type { Channel } from '@/core/message/channel';
import type { EntitySchema } from '@mikro-orm/core';
import { big, boolean, entity, instant, integer, key, keyOf, maybe, text } from '../kit/define';

/** A part of a longer text that has not all come. */
export interface InboundPart {
  fromNumber: string;
  toNumber: string;
  reference: number;
  total: number;
  index: number;
  units: string;
  at: Date;
  doneAt: Date | null;
}

export const InboundPart: EntitySchema<InboundPart> = entity<InboundPart>('InboundPart', 'inbound_part', {
  fromNumber: key,
  toNumber: key,
  reference: keyOf(integer),
  total: keyOf(integer),
  index: keyOf(integer),
  units: text,
  at: instant,
  doneAt: maybe(instant),
});

/** What somebody wrote. */
export interface InboundText {
  id: string;
  workspaceId: string;
  personId: string;
  channel: Channel;
  /** Of an e-mail. */
  subject: string | null;
  /** The number it came to; an e-mail comes to none. */
  senderId: string | null;
  carrierId: string | null;
  body: string;
  meaning: string;
  rule: string;
  evidence: string;
  keyword: string | null;
  nearKeyword: string | null;
  afterTextId: string | null;
  /** The send that text was of. */
  afterSendId: string | null;
  resolvedAt: Date | null;
  at: Date;
  fromNumber: string;
  fingerprint: string | null;
  /** Of a chat message: the account it came to, and the words of the button that was pressed. */
  chatAccountId: string | null;
  button: string | null;
  /** It begins a conversation, and it is the first to its message; the database says so. */
  begins: boolean;
  answers: boolean;
  /** When its writer first agreed to anything, and the month of their stay it is the first reply of. */
  inSince: Date | null;
  month: number | null;
}

export const InboundText: EntitySchema<InboundText> = entity<InboundText>('InboundText', 'inbound_text', {
  id: key,
  workspaceId: text,
  personId: text,
  channel: text,
  subject: maybe(text),
  senderId: maybe(text),
  carrierId: maybe(text),
  body: text,
  meaning: text,
  rule: text,
  evidence: text,
  keyword: maybe(text),
  nearKeyword: maybe(text),
  afterTextId: maybe(text),
  afterSendId: maybe(text),
  resolvedAt: maybe(instant),
  at: instant,
  fromNumber: text,
  fingerprint: maybe(text),
  chatAccountId: maybe(text),
  button: maybe(text),
  begins: boolean,
  answers: boolean,
  inSince: maybe(instant),
  month: maybe(integer),
});

/** What a teammate is told. */
export interface Notice {
  id: string;
  workspaceId: string;
  accountId: string;
  personId: string;
  kind: string;
  subject: string | null;
  at: Date;
  readAt: Date | null;
}

export const Notice: EntitySchema<Notice> = entity<Notice>('Notice', 'notice', {
  id: key,
  workspaceId: text,
  accountId: text,
  personId: text,
  kind: text,
  subject: maybe(text),
  at: instant,
  readAt: maybe(instant),
});

/** A text that could not be worked on when it came. */
export interface UnreadText {
  seq: number;
  id: string;
  workspaceId: string | null;
  carrierId: string | null;
  fromNumber: string;
  toNumber: string;
  body: string;
  fingerprint: string | null;
  holds: boolean;
  at: Date;
}

export const UnreadText: EntitySchema<UnreadText> = entity<UnreadText>('UnreadText', 'unread_text', {
  seq: big,
  id: key,
  workspaceId: maybe(text),
  carrierId: maybe(text),
  fromNumber: text,
  toNumber: text,
  body: text,
  fingerprint: maybe(text),
  holds: boolean,
  at: instant,
});

/** Somebody is to be opted out by hand: it can be taken back until it is due. */
export interface Leaving {
  id: string;
  workspaceId: string;
  personId: string;
  /** Null: every program. */
  programId: string | null;
  /** The final text goes. */
  confirms: boolean;
  why: string;
  recordedBy: string;
  askedAt: Date;
  dueAt: Date;
}

export const Leaving: EntitySchema<Leaving> = entity<Leaving>('Leaving', 'leaving', {
  id: key,
  workspaceId: text,
  personId: text,
  programId: maybe(text),
  confirms: boolean,
  why: text,
  recordedBy: text,
  askedAt: instant,
  dueAt: instant,
});

/** What is kept of a conversation with somebody beside what was said. */
export interface Thread {
  workspaceId: string;
  personId: string;
  /** Whose it is; null: whoever the person belongs to has it, else nobody. */
  accountId: string | null;
  givenAt: Date | null;
  /** Why it waits, of what came since they began to; null: nothing came, or it is settled. */
  why: WaitsWhy | null;
  whyAt: Date | null;
  /** What they last wrote on, to, and under. */
  channel: Channel | null;
  senderId: string | null;
  programId: string | null;
  /** Put off until then; what they write after `laterSince` ends it. */
  laterUntil: Date | null;
  laterWhy: 'later' | 'no-answer' | null;
  laterSince: Date | null;
  laterTold: boolean;
  /** When a human was last through with it. */
  doneAt: Date | null;
}

export const Thread: EntitySchema<Thread> = entity<Thread>('Thread', 'thread', {
  workspaceId: key,
  personId: key,
  accountId: maybe(text),
  givenAt: maybe(instant),
  why: maybe(text),
  whyAt: maybe(instant),
  channel: maybe(text),
  senderId: maybe(text),
  programId: maybe(text),
  laterUntil: maybe(instant),
  laterWhy: maybe(text),
  laterSince: maybe(instant),
  laterTold: boolean,
  doneAt: maybe(instant),
});

/** Words between teammates about somebody. */
export interface ThreadNote {
  id: string;
  workspaceId: string;
  personId: string;
  accountId: string | null;
  body: string;
  at: Date;
}

export const ThreadNote: EntitySchema<ThreadNote> = entity<ThreadNote>('ThreadNote', 'thread_note', {
  id: key,
  workspaceId: text,
  personId: text,
  accountId: maybe(text),
  body: text,
  at: instant,
});

/** One time somebody waited, and how it ended. */
export interface ThreadTurn {
  id: string;
  workspaceId: string;
  personId: string;
  why: WaitsWhy;
  since: Date;
  /** Until when they should have been answered. */
  byAt: Date;
  endedAt: Date;
  how: 'answered' | 'closed';
  accountId: string | null;
  messageId: string | null;
}

export const ThreadTurn: EntitySchema<ThreadTurn> = entity<ThreadTurn>('ThreadTurn', 'thread_turn', {
  id: key,
  workspaceId: text,
  personId: text,
  why: text,
  since: instant,
  byAt: instant,
  endedAt: instant,
  how: text,
  accountId: maybe(text),
  messageId: maybe(text),
});

/** A prepared answer that was sent, with the words it answered. */
export interface PreparedUse {
  messageId: string;
  workspaceId: string;
  templateId: string;
  personId: string;
  said: string;
  at: Date;
}

export const PreparedUse: EntitySchema<PreparedUse> = entity<PreparedUse>('PreparedUse', 'prepared_use', {
  messageId: key,
  workspaceId: text,
  templateId: text,
  personId: text,
  said: text,
  at: instant,
});
