import type { EntitySchema } from '@mikro-orm/core';
import type { FormDocument } from '@/core/form/document';
import type { SubmissionState } from '@/core/form/lifecycle';
import type { OwnValue } from '@/core/people/values';
import { boolean, entity, instant, integer, json, key, keyOf, maybe, text } from '@/db/kit/define';

/** A form by which people join a program. */
export interface Form {
  id: string;
  workspaceId: string;
  /** In its address. */
  code: string;
  name: string;
  programId: string;
  /** What is worked on; what is shown is the version. */
  document: FormDocument;
  /** The version that is shown; null: it was never published. */
  version: number | null;
  /** First words of the confirmation, a template; null: those of the program. */
  welcome: string | null;
  offerId: string | null;
  /** The source whose inquiries it brings; null: who sends it asks nothing. */
  sourceId: string | null;
  closedAt: Date | null;
  stamp: number;
  createdBy: string | null;
  createdAt: Date;
}

export const Form: EntitySchema<Form> = entity<Form>('Form', 'form', {
  id: key,
  workspaceId: text,
  code: text,
  name: text,
  programId: text,
  document: json,
  version: maybe(integer),
  welcome: maybe(text),
  offerId: maybe(text),
  sourceId: maybe(text),
  closedAt: maybe(instant),
  stamp: integer,
  createdBy: maybe(text),
  createdAt: instant,
});

/** A tag or list that whoever joins by a form gets. */
export interface FormLabel {
  workspaceId: string;
  formId: string;
  labelId: string;
}

export const FormLabel: EntitySchema<FormLabel> = entity<FormLabel>('FormLabel', 'form_label', {
  ...{ workspaceId: text, formId: key, labelId: key },
});

/** A sequence that a form starts. */
export interface FormSequence {
  workspaceId: string;
  formId: string;
  sequenceId: string;
}

export const FormSequence: EntitySchema<FormSequence> = entity<FormSequence>(
  'FormSequence',
  'form_sequence',
  { workspaceId: text, formId: key, sequenceId: key },
);

/** A form as it was shown from an instant on. It never changes. */
export interface FormVersion {
  formId: string;
  version: number;
  workspaceId: string;
  document: FormDocument;
  /** What is agreed to, as it stood beside the box. */
  wording: string;
  publishedAt: Date;
  publishedBy: string | null;
}

export const FormVersion: EntitySchema<FormVersion> = entity<FormVersion>('FormVersion', 'form_version', {
  formId: key,
  version: keyOf(integer),
  workspaceId: text,
  document: json,
  wording: text,
  publishedAt: instant,
  publishedBy: maybe(text),
});

/** A form that somebody's browser drew. */
export interface FormVisit {
  press: string;
  formId: string;
  workspaceId: string;
  version: number;
  openedAt: Date;
  begunAt: Date | null;
  /** The last field they touched, from 1; 0: none. */
  furthest: number;
}

export const FormVisit: EntitySchema<FormVisit> = entity<FormVisit>('FormVisit', 'form_visit', {
  press: key,
  formId: key,
  workspaceId: text,
  version: integer,
  openedAt: instant,
  begunAt: maybe(instant),
  furthest: integer,
});

/** What somebody sent by a form. It is of the person once their number is proved. */
export interface Submission {
  id: string;
  workspaceId: string;
  formId: string;
  version: number;
  press: string;
  number: string;
  /** By field, as it is kept on the person. */
  filled: [field: string, value: OwnValue][];
  personId: string | null;
  /** Where it came from on the internet, and with what: evidence. */
  address: string;
  agent: string;
  state: SubmissionState;
  /** Why it is held, dropped or refused. */
  because: string | null;
  /** A human let it through. */
  released: boolean;
  at: Date;
  askedAt: Date | null;
  settledAt: Date | null;
  /** When the worker looks at it; null: it does not. */
  dueAt: Date | null;
}

export const Submission: EntitySchema<Submission> = entity<Submission>('Submission', 'submission', {
  id: key,
  workspaceId: text,
  formId: text,
  version: integer,
  press: text,
  number: text,
  filled: json,
  personId: maybe(text),
  address: text,
  agent: text,
  state: text,
  because: maybe(text),
  released: boolean,
  at: instant,
  askedAt: maybe(instant),
  settledAt: maybe(instant),
  dueAt: maybe(instant),
});
