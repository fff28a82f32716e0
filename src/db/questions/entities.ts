import type { EntitySchema } from '@mikro-orm/core';
import type { Question } from '@/core/question/fields';
import type { AskingState } from '@/core/question/lifecycle';
import type { Outcome } from '@/core/question/next';
import { boolean, entity, instant, integer, json, key, keyOf, maybe, text } from '@/db/kit/define';

/** The questions one person is asked after they joined by a keyword, as it had them then. */
export interface Asking {
  id: string;
  workspaceId: string;
  personId: string;
  /** Null: the keyword is gone. */
  keywordId: string | null;
  programId: string;
  /** The number they wrote to, and the one they wrote from. */
  senderId: string;
  address: string;
  questions: Question[];
  thanks: string;
  linkDays: number | null;
  taskAfter: boolean;
  /** Place of the open question. */
  at: number;
  times: 1 | 2;
  /** What was said of a date without its year, as `05-05`. */
  partial: string | null;
  state: AskingState;
  /** When silence is acted on; null: it is not waited any more. */
  dueAt: Date | null;
  begunAt: Date;
  settledAt: Date | null;
}

export const Asking: EntitySchema<Asking> = entity<Asking>('Asking', 'asking', {
  id: key,
  workspaceId: text,
  personId: text,
  keywordId: maybe(text),
  programId: text,
  senderId: text,
  address: text,
  questions: json,
  thanks: text,
  linkDays: maybe(integer),
  taskAfter: boolean,
  at: integer,
  times: integer,
  partial: maybe(text),
  state: text,
  dueAt: maybe(instant),
  begunAt: instant,
  settledAt: maybe(instant),
});

/** One question of these, from when it was asked. */
export interface AskingStep {
  askingId: string;
  place: number;
  workspaceId: string;
  field: string;
  askedAt: Date;
  againAt: Date | null;
  outcome: Outcome | null;
  settledAt: Date | null;
}

export const AskingStep: EntitySchema<AskingStep> = entity<AskingStep>('AskingStep', 'asking_step', {
  askingId: key,
  place: keyOf(integer),
  workspaceId: text,
  field: text,
  askedAt: instant,
  againAt: maybe(instant),
  outcome: maybe(text),
  settledAt: maybe(instant),
});

/** A form that knows who it is for. */
export interface PersonalLink {
  id: string;
  workspaceId: string;
  personId: string;
  code: string;
  /** The fields it asks for: as in `Question`. */
  fields: string[];
  /** The questions it stands in for; null: a teammate made it. */
  askingId: string | null;
  madeBy: string | null;
  madeAt: Date;
  expiresAt: Date;
  openedAt: Date | null;
  begunAt: Date | null;
  finishedAt: Date | null;
}

export const PersonalLink: EntitySchema<PersonalLink> = entity<PersonalLink>(
  'PersonalLink',
  'personal_link',
  {
    id: key,
    workspaceId: text,
    personId: text,
    code: text,
    fields: json,
    askingId: maybe(text),
    madeBy: maybe(text),
    madeAt: instant,
    expiresAt: instant,
    openedAt: maybe(instant),
    begunAt: maybe(instant),
    finishedAt: maybe(instant),
  },
);
