import type { Promised, Purpose } from '@/core/program/promise';
import type { Question } from '@/core/question/fields';
import type { OwnHours } from '@/core/clearance/hours';
import type { EntitySchema } from '@mikro-orm/core';
import type { ProgramFigures } from '@/db/programs/programs';
import { entity, key, keyOf, text, maybe, integer, boolean, json, instant, big } from '@/db/kit/define';

export interface Program {
  id: string;
  workspaceId: string;
  name: string;
  purpose: Purpose;
  /** Credits that what it begins may cost in a day; null: no limit. */
  dailyCredits: number | null;
  promiseCount: number | null;
  promisePeriod: 'week' | 'month';
  welcome: string;
  doubleOptIn: boolean;
  ownHours: OwnHours | null;
  archivedAt: Date | null;
  /** The program its members went to. */
  mergedInto: string | null;
  /** Counts changes: who writes over one they did not see is told. */
  stamp: number;
  createdAt: Date;
}

export const Program: EntitySchema<Program> = entity<Program>('Program', 'program', {
  id: key,
  workspaceId: text,
  name: text,
  purpose: text,
  dailyCredits: maybe(integer),
  promiseCount: maybe(integer),
  promisePeriod: text,
  welcome: text,
  doubleOptIn: boolean,
  ownHours: maybe(json),
  archivedAt: maybe(instant),
  mergedInto: maybe(text),
  stamp: integer,
  createdAt: instant,
});

/** What a program promised from an instant on; there is none as long as it never changed. */
export interface ProgramPromise {
  workspaceId: string;
  programId: string;
  since: Date;
  count: number | null;
  period: 'week' | 'month';
  binds: Promised['binds'];
}

export const ProgramPromise: EntitySchema<ProgramPromise> = entity<ProgramPromise>(
  'ProgramPromise',
  'program_promise',
  {
    workspaceId: text,
    programId: key,
    since: keyOf(instant),
    count: maybe(integer),
    period: text,
    binds: text,
  },
);

export interface ProgramSender {
  workspaceId: string;
  programId: string;
  senderId: string;
}

export const ProgramSender: EntitySchema<ProgramSender> = entity<ProgramSender>(
  'ProgramSender',
  'program_sender',
  {
    workspaceId: text,
    programId: key,
    senderId: key,
  },
);

export interface KeywordRow {
  id: string;
  workspaceId: string;
  programId: string;
  /** As it is compared: lower case, no accents, no punctuation. */
  word: string;
  /** Its own first words, a template; null: those of its program. */
  welcome: string | null;
  validFrom: Date | null;
  validTo: Date | null;
  /** What is answered outside that time; empty: words of ours. */
  beforeWords: string;
  afterWords: string;
  offerId: string | null;
  /** Asked one after the other once somebody joined. */
  questions: Question[];
  /** Said after the last answer; empty: nothing. */
  thanks: string;
  /** So many days a personal link holds that follows on silence; null: none does. */
  linkDays: number | null;
  /** A teammate gets a task where neither came. */
  taskAfter: boolean;
  stamp: number;
  createdAt: Date;
}

export const KeywordRow: EntitySchema<KeywordRow> = entity<KeywordRow>('Keyword', 'keyword', {
  id: key,
  workspaceId: text,
  programId: text,
  word: text,
  welcome: maybe(text),
  validFrom: maybe(instant),
  validTo: maybe(instant),
  beforeWords: text,
  afterWords: text,
  offerId: maybe(text),
  questions: json,
  thanks: text,
  linkDays: maybe(integer),
  taskAfter: boolean,
  stamp: integer,
  createdAt: instant,
});

/** A tag or list that a keyword gives. */
export interface KeywordLabel {
  workspaceId: string;
  keywordId: string;
  labelId: string;
}

export const KeywordLabel: EntitySchema<KeywordLabel> = entity<KeywordLabel>(
  'KeywordLabel',
  'keyword_label',
  {
    ...{ workspaceId: text, keywordId: key, labelId: key },
  },
);

/** A sequence that a keyword starts. */
export interface KeywordSequence {
  workspaceId: string;
  keywordId: string;
  sequenceId: string;
}

export const KeywordSequence: EntitySchema<KeywordSequence> = entity<KeywordSequence>(
  'KeywordSequence',
  'keyword_sequence',
  { workspaceId: text, keywordId: key, sequenceId: key },
);

/** A number a keyword is heard on. Without any it is heard on all. */
export interface KeywordSender {
  workspaceId: string;
  keywordId: string;
  senderId: string;
}

export const KeywordSender: EntitySchema<KeywordSender> = entity<KeywordSender>(
  'KeywordSender',
  'keyword_sender',
  { workspaceId: text, keywordId: key, senderId: key },
);

/** Another spelling that counts as a keyword. */
export interface KeywordSpelling {
  workspaceId: string;
  word: string;
  keywordId: string;
  createdAt: Date;
}

export const KeywordSpelling: EntitySchema<KeywordSpelling> = entity<KeywordSpelling>(
  'KeywordSpelling',
  'keyword_spelling',
  { workspaceId: key, word: key, keywordId: text, createdAt: instant },
);

/** How many are in a program, as last counted; see `services/programs/figures.ts`. */
export interface ProgramCount extends ProgramFigures {
  workspaceId: string;
  programId: string;
  at: Date;
  tookMs: number;
  /** The last happening of the workspace before it was counted. */
  mark: number;
}

export const ProgramCount: EntitySchema<ProgramCount> = entity<ProgramCount>(
  'ProgramCount',
  'program_count',
  {
    workspaceId: key,
    programId: key,
    at: instant,
    tookMs: integer,
    mark: big,
    members: integer,
    left: integer,
    joined30: integer,
    left30: integer,
    sources: json,
  },
);
