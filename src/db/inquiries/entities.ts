import type { EntitySchema } from '@mikro-orm/core';
import type { ArrivalState } from '@/core/inquiry/arrival';
import type { AssignmentRule } from '@/core/inquiry/assign';
import type { Mapping } from '@/core/inquiry/mapping';
import type { Signing } from '@/core/inquiry/signing';
import type { ArrivalFormat, Tree } from '@/core/inquiry/tree';
import { entity, instant, integer, json, key, maybe, text, texts } from '@/db/kit/define';

/** A door through which inquiries arrive. */
export interface Source {
  id: string;
  workspaceId: string;
  name: string;
  programId: string;
  /** In its address. */
  key: string;
  /** The one before, which counts until it ends. */
  oldKey: string | null;
  oldKeyUntil: Date | null;
  /** What deliveries are signed with; null: they are not. */
  secret: string | null;
  oldSecret: string | null;
  oldSecretUntil: Date | null;
  signs: Signing;
  /** The header with the signature, where the sender has a way of their own. */
  signHeader: string | null;
  /** Domains that must have sent a letter, provably; empty: anybody may. */
  lettersFrom: string[];
  mapping: Mapping;
  assignment: AssignmentRule;
  /** The words beside the box that people tick there, where they agree to texts; null: there is no such box. */
  wording: string | null;
  /** What one inquiry costs, in hundredths. */
  costCents: number | null;
  /** Whose turn it was. */
  lastAccountId: string | null;
  /** Nothing is taken any more since; null: it is open. */
  closedAt: Date | null;
  stamp: number;
  createdBy: string | null;
  createdAt: Date;
}

export const Source: EntitySchema<Source> = entity<Source>('Source', 'source', {
  id: key,
  workspaceId: text,
  name: text,
  programId: text,
  key: text,
  oldKey: maybe(text),
  oldKeyUntil: maybe(instant),
  secret: maybe(text),
  oldSecret: maybe(text),
  oldSecretUntil: maybe(instant),
  signs: text,
  signHeader: maybe(text),
  lettersFrom: texts,
  mapping: json,
  assignment: json,
  wording: maybe(text),
  costCents: maybe(integer),
  lastAccountId: maybe(text),
  closedAt: maybe(instant),
  stamp: integer,
  createdBy: maybe(text),
  createdAt: instant,
});

/** A tag or list that whoever inquires through a source gets. */
export interface SourceLabel {
  workspaceId: string;
  sourceId: string;
  labelId: string;
}

export const SourceLabel: EntitySchema<SourceLabel> = entity<SourceLabel>('SourceLabel', 'source_label', {
  ...{ workspaceId: text, sourceId: key, labelId: key },
});

/** A sequence that an inquiry begins; `kind` empty: whatever its kind. */
export interface SourceSequence {
  workspaceId: string;
  sourceId: string;
  kind: string;
  sequenceId: string;
}

export const SourceSequence: EntitySchema<SourceSequence> = entity<SourceSequence>(
  'SourceSequence',
  'source_sequence',
  { workspaceId: text, sourceId: key, kind: key, sequenceId: key },
);

/** Something that came through a source, as it came. */
export interface Arrival {
  id: string;
  workspaceId: string;
  sourceId: string;
  format: ArrivalFormat;
  content: Tree;
  digest: string;
  state: ArrivalState;
  /** Why it could not be read, or was left out. */
  because: string | null;
  inquiryId: string | null;
  at: Date;
  settledAt: Date | null;
  /** When the worker looks at it; null: it does not. */
  dueAt: Date | null;
}

export const Arrival: EntitySchema<Arrival> = entity<Arrival>('Arrival', 'arrival', {
  id: key,
  workspaceId: text,
  sourceId: text,
  format: text,
  content: json,
  digest: text,
  state: text,
  because: maybe(text),
  inquiryId: maybe(text),
  at: instant,
  settledAt: maybe(instant),
  dueAt: maybe(instant),
});

/** What somebody asked, and who has it. */
export interface Inquiry {
  id: string;
  workspaceId: string;
  sourceId: string;
  arrivalId: string | null;
  personId: string;
  kind: string;
  words: string;
  senderId: string | null;
  /** What was left out or mended when it was read. */
  told: string[];
  /** Whose it is; null: nobody's. */
  accountId: string | null;
  /** Why it is theirs: a code of `ASSIGNMENT_WORDS`. */
  because: string;
  /** An earlier one of theirs of this kind, which is answered for both. */
  twinOf: string | null;
  /** Why nothing is sent by itself: a code of `HELD_WORDS`; null: it is. */
  held: string | null;
  at: Date;
}

export const Inquiry: EntitySchema<Inquiry> = entity<Inquiry>('Inquiry', 'inquiry', {
  id: key,
  workspaceId: text,
  sourceId: text,
  arrivalId: maybe(text),
  personId: text,
  kind: text,
  words: text,
  senderId: maybe(text),
  told: texts,
  accountId: maybe(text),
  because: text,
  twinOf: maybe(text),
  held: maybe(text),
  at: instant,
});
