import type { EntitySchema } from '@mikro-orm/core';
import type { NamedDocument } from '@/core/sequence/parse';
import type { EndReason, Enrolment, EnrolmentState } from '@/core/sequence/enrolment';
import type { Act } from '@/core/sequence/document';
import { boolean, day, entity, instant, integer, json, key, keyOf, maybe, text } from '../kit/define';

export type SequenceState = 'draft' | 'running' | 'paused' | 'stopped';

export interface Sequence {
  id: string;
  workspaceId: string;
  name: string;
  programId: string;
  state: SequenceState;
  /** What is being written; published, it becomes a version. */
  draft: NamedDocument;
  /** Counts up at each save: who saves an older one is told. */
  draftStamp: number;
  draftBy: string | null;
  /** The version that people enter; null: none yet. */
  version: number | null;
  /** The last day, where the workspace is, that was looked at for whoever begins by a date; null: none yet. */
  datesOn: string | null;
  createdBy: string | null;
  createdAt: Date;
  updatedAt: Date;
}

export const Sequence: EntitySchema<Sequence> = entity<Sequence>('Sequence', 'sequence', {
  id: key,
  workspaceId: text,
  name: text,
  programId: text,
  state: text,
  draft: json,
  draftStamp: integer,
  draftBy: maybe(text),
  version: maybe(integer),
  datesOn: maybe(day),
  createdBy: maybe(text),
  createdAt: instant,
  updatedAt: instant,
});

/** A published document. It never changes. */
export interface SequenceVersion {
  workspaceId: string;
  sequenceId: string;
  version: number;
  document: NamedDocument;
  publishedBy: string | null;
  publishedAt: Date;
}

export const SequenceVersion: EntitySchema<SequenceVersion> = entity<SequenceVersion>(
  'SequenceVersion',
  'sequence_version',
  {
    workspaceId: text,
    sequenceId: key,
    version: keyOf(integer),
    document: json,
    publishedBy: maybe(text),
    publishedAt: instant,
  },
);

/** Somebody's way through a sequence: see `core/sequence/enrolment.ts`. */
export interface EnrolmentRow {
  id: string;
  workspaceId: string;
  sequenceId: string;
  version: number;
  personId: string;
  state: EnrolmentState;
  beganAt: Date;
  /** What began it: `joined`, `tag`, `batch:<id>`, `hand:<account>` … */
  begunBy: string;
  prompted: boolean;
  line: string | null;
  arrivedAt: Date;
  dueAt: Date | null;
  lookAt: Date | null;
  beforeAt: Date;
  leftAt: Date | null;
  acted: Partial<Record<Act, number>>;
  notBefore: Date | null;
  asks: string | null;
  endedAt: Date | null;
  endedWhy: EndReason | null;
}

export const EnrolmentRow: EntitySchema<EnrolmentRow> = entity<EnrolmentRow>('Enrolment', 'enrolment', {
  id: key,
  workspaceId: text,
  sequenceId: text,
  version: integer,
  personId: text,
  state: text,
  beganAt: instant,
  begunBy: text,
  prompted: boolean,
  line: maybe(text),
  arrivedAt: instant,
  dueAt: maybe(instant),
  lookAt: maybe(instant),
  beforeAt: instant,
  leftAt: maybe(instant),
  acted: json,
  notBefore: maybe(instant),
  asks: maybe(text),
  endedAt: maybe(instant),
  endedWhy: maybe(text),
});

/** What became of a line for somebody. */
export interface EnrolmentLine {
  workspaceId: string;
  enrolmentId: string;
  sequenceId: string;
  line: string;
  at: Date;
  /** Why it was passed over; null: it was done. */
  because: string | null;
  messageId: string | null;
}

export const EnrolmentLine: EntitySchema<EnrolmentLine> = entity<EnrolmentLine>(
  'EnrolmentLine',
  'enrolment_line',
  {
    workspaceId: text,
    enrolmentId: key,
    sequenceId: text,
    line: key,
    at: instant,
    because: maybe(text),
    messageId: maybe(text),
  },
);

/** A teammate's own number. `asked` waits for its code; of the code only the hash is kept. */
export interface OwnNumber {
  workspaceId: string;
  accountId: string;
  number: string | null;
  provedAt: Date | null;
  asked: string | null;
  codeHash: string | null;
  askedAt: Date | null;
  /** Codes that were given and were wrong, since the last one went out. */
  tries: number;
  /** Codes that went out since `codesSince`. */
  codes: number;
  codesSince: Date | null;
}

export const OwnNumber: EntitySchema<OwnNumber> = entity<OwnNumber>('OwnNumber', 'own_number', {
  workspaceId: key,
  accountId: key,
  number: maybe(text),
  provedAt: maybe(instant),
  asked: maybe(text),
  codeHash: maybe(text),
  askedAt: maybe(instant),
  tries: integer,
  codes: integer,
  codesSince: maybe(instant),
});

/** Something a trial did, as it is shown. */
export interface TrialStop {
  /** The instant of the sequence. */
  at: string;
  line: string;
  what: string;
  verdict: 'sent' | 'done' | 'passed-over' | 'waits';
  reasons: { code: string; means: string }[];
  body?: string;
  subject?: string;
}

/** A sequence that a teammate tries on themselves, with time pressed together. */
export interface Trial {
  id: string;
  workspaceId: string;
  sequenceId: string;
  accountId: string;
  personId: string;
  document: NamedDocument;
  enrolment: Enrolment;
  log: TrialStop[];
  beganAt: Date;
  dayMs: number;
  /** The instant of the sequence it has come to. */
  reached: Date;
  /** The message it waits for. */
  messageId: string | null;
  lookAt: Date | null;
  endedAt: Date | null;
  endedWhy: string | null;
}

export const Trial: EntitySchema<Trial> = entity<Trial>('Trial', 'trial', {
  id: key,
  workspaceId: text,
  sequenceId: text,
  accountId: text,
  personId: text,
  document: json,
  enrolment: json,
  log: json,
  beganAt: instant,
  dayMs: integer,
  reached: instant,
  messageId: maybe(text),
  lookAt: maybe(instant),
  endedAt: maybe(instant),
  endedWhy: maybe(text),
});
