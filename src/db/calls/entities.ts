import type { EntitySchema } from '@mikro-orm/core';
import type { CallMapping } from '@/core/calls/mapping';
import { boolean, entity, instant, integer, json, key, maybe, text, texts } from '../kit/define';

/** A telephone system that tells us of calls. */
export interface Switchboard {
  id: string;
  workspaceId: string;
  name: string;
  /** In the address it tells us at. */
  doorKey: string;
  secret: string;
  signs: 'none' | 'standard';
  mapping: CallMapping;
  /** Where its numbers are listed; null: it does not tell them. */
  numbersUrl: string | null;
  token: string | null;
  heardAt: Date | null;
  removedAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const Switchboard: EntitySchema<Switchboard> = entity<Switchboard>('Switchboard', 'switchboard', {
  id: key,
  workspaceId: text,
  name: text,
  doorKey: text,
  secret: text,
  signs: text,
  mapping: json,
  numbersUrl: maybe(text),
  token: maybe(text),
  heardAt: maybe(instant),
  removedAt: maybe(instant),
  createdBy: maybe(text),
  createdAt: instant,
});

/** Something a telephone system told, which it may tell again. */
export interface CallEvent {
  id: string;
  workspaceId: string;
  switchboardId: string;
  key: string;
  content: unknown;
  /** Why it could not be read; null: it was, or waits. */
  trouble: string | null;
  at: Date;
  dueAt: Date | null;
}

export const CallEvent: EntitySchema<CallEvent> = entity<CallEvent>('CallEvent', 'call_event', {
  id: key,
  workspaceId: text,
  switchboardId: text,
  key: text,
  content: maybe(json),
  trouble: maybe(text),
  at: instant,
  dueAt: maybe(instant),
});

/** What a call can come to, and what follows. */
export interface CallOutcome {
  id: string;
  workspaceId: string;
  name: string;
  /** What telephone systems call it. */
  calls: string[];
  /** Its place on the desk, the first is 1. */
  rank: number;
  /** It is what a call gets that nobody picked up. */
  missed: boolean;
  /** They were spoken to. */
  reached: boolean;
  programId: string | null;
  /** The text that follows; null: none does. */
  body: string | null;
  sequenceId: string | null;
  archivedAt: Date | null;
  createdAt: Date;
}

export const CallOutcome: EntitySchema<CallOutcome> = entity<CallOutcome>('CallOutcome', 'call_outcome', {
  id: key,
  workspaceId: text,
  name: text,
  calls: texts,
  rank: integer,
  missed: boolean,
  reached: boolean,
  programId: maybe(text),
  body: maybe(text),
  sequenceId: maybe(text),
  archivedAt: maybe(instant),
  createdAt: instant,
});

export interface Call {
  id: string;
  workspaceId: string;
  /** Null: written down by hand. */
  switchboardId: string | null;
  outsideId: string | null;
  direction: 'in' | 'out';
  /** Our number; null: one that is none of ours any more. */
  senderId: string | null;
  /** Their number. */
  address: string;
  personId: string | null;
  accountId: string | null;
  /** As the telephone system calls whoever talked. */
  teammate: string;
  rangAt: Date;
  answeredAt: Date | null;
  endedAt: Date | null;
  outcomeId: string | null;
  outcomeAt: Date | null;
  note: string;
  /** The voicemail they call back upon. */
  afterMessageId: string | null;
  afterSendId: string | null;
  /** A call nobody picked up was seen to. */
  settledAt: Date | null;
  createdAt: Date;
}

export const Call: EntitySchema<Call> = entity<Call>('Call', 'call', {
  id: key,
  workspaceId: text,
  switchboardId: maybe(text),
  outsideId: maybe(text),
  direction: text,
  senderId: maybe(text),
  address: text,
  personId: maybe(text),
  accountId: maybe(text),
  teammate: text,
  rangAt: instant,
  answeredAt: maybe(instant),
  endedAt: maybe(instant),
  outcomeId: maybe(text),
  outcomeAt: maybe(instant),
  note: text,
  afterMessageId: maybe(text),
  afterSendId: maybe(text),
  settledAt: maybe(instant),
  createdAt: instant,
});

/** What an outcome of a call sent, or why it sent nothing. */
export interface CallText {
  id: string;
  callId: string;
  outcomeId: string;
  workspaceId: string;
  messageId: string | null;
  because: string | null;
  at: Date;
  dueAt: Date | null;
}

export const CallText: EntitySchema<CallText> = entity<CallText>('CallText', 'call_text', {
  id: key,
  callId: text,
  outcomeId: text,
  workspaceId: text,
  messageId: maybe(text),
  because: maybe(text),
  at: instant,
  dueAt: maybe(instant),
});
