import type { EntitySchema } from '@mikro-orm/core';
import { boolean, entity, instant, integer, json, key, keyOf, maybe, text } from '../kit/define';

/** The people of a broadcast whom one teammate, or somebody invited for this alone, presses the text to. */
export interface Stack {
  id: string;
  workspaceId: string;
  sendId: string;
  /** Null: whoever holds the link. */
  accountId: string | null;
  name: string;
  keyHash: string | null;
  keyEndsAt: Date | null;
  /** Whether whoever holds the link sees numbers. */
  seesNumbers: boolean;
  /** They take so many at once, again and again; null: what they were given. */
  takes: number | null;
  /** When something was last pressed or looked at here. */
  heardAt: Date | null;
  endedAt: Date | null;
  createdBy: string | null;
  createdAt: Date;
}

export const Stack: EntitySchema<Stack> = entity<Stack>('Stack', 'stack', {
  id: key,
  workspaceId: text,
  sendId: text,
  accountId: maybe(text),
  name: text,
  keyHash: maybe(text),
  keyEndsAt: maybe(instant),
  seesNumbers: boolean,
  takes: maybe(integer),
  heardAt: maybe(instant),
  endedAt: maybe(instant),
  createdBy: maybe(text),
  createdAt: instant,
});

/** One message that is pressed by hand. */
export interface StackRow {
  messageId: string;
  workspaceId: string;
  sendId: string;
  stackId: string | null;
  rank: number;
  pressedAt: Date | null;
  pressedBy: string | null;
  adapted: boolean;
  skippedAt: Date | null;
  skippedWhy: string | null;
  /** Whoever was invited to press asked for somebody else to answer them. */
  passedOnAt: Date | null;
}

export const StackRow: EntitySchema<StackRow> = entity<StackRow>('StackRow', 'stack_row', {
  messageId: key,
  workspaceId: text,
  sendId: text,
  stackId: maybe(text),
  rank: integer,
  pressedAt: maybe(instant),
  pressedBy: maybe(text),
  adapted: boolean,
  skippedAt: maybe(instant),
  skippedWhy: maybe(text),
  passedOnAt: maybe(instant),
});

/** Something that was learnt of somebody to whom a text was pressed. */
export interface LearntFact {
  messageId: string;
  workspaceId: string;
  key: string;
  value: unknown;
  /** Null: a guest noted it. */
  accountId: string | null;
  by: string;
  at: Date;
}

export const LearntFact: EntitySchema<LearntFact> = entity<LearntFact>('LearntFact', 'learnt_fact', {
  messageId: key,
  workspaceId: text,
  key: keyOf(text),
  value: json,
  accountId: maybe(text),
  by: text,
  at: instant,
});

/** Whose answer it is that a guest wrote. */
export interface GuestAnswer {
  messageId: string;
  workspaceId: string;
  stackId: string;
}

export const GuestAnswer: EntitySchema<GuestAnswer> = entity<GuestAnswer>('GuestAnswer', 'guest_answer', {
  messageId: key,
  workspaceId: text,
  stackId: text,
});

/** What whoever runs a broadcast by hand says to all who press it; the last one counts. */
export interface TeamWord {
  id: string;
  workspaceId: string;
  sendId: string;
  accountId: string | null;
  body: string;
  at: Date;
}

export const TeamWord: EntitySchema<TeamWord> = entity<TeamWord>('TeamWord', 'team_word', {
  id: key,
  workspaceId: text,
  sendId: text,
  accountId: maybe(text),
  body: text,
  at: instant,
});
