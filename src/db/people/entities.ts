import { boolean, day, entity, instant, integer, json, key, keyOf, maybe, text, texts } from '../kit/define';
import type { AddressKind, AddressState, LineType } from '@/core/people/address';
import type { OwnValues } from '@/core/people/values';
import type { EntitySchema } from '@mikro-orm/core';

export interface Person {
  id: string;
  workspaceId: string;
  /** The preferred number and e-mail address with their states, copied from `address` by the database; null: none. */
  number: string | null;
  firstName: string | null;
  lastName: string | null;
  email: string | null;
  region: string | null;
  postalCode: string | null;
  zone: string | null;
  lineType: LineType;
  numberState: AddressState;
  emailState: AddressState;
  /** Every address but the preferred ones. */
  further: string[] | null;
  /** The workspace's own fields by key: text in the form of the field's kind, or a list where several are chosen. */
  fields: OwnValues;
  source: string;
  stageId: string | null;
  ownerId: string | null;
  /** Where they are, worked out from number and address; null: not known. */
  placeRegion: string | null;
  placeZones: readonly string[] | null;
  /** The person this one was merged into: what is asked of this one is asked of that. */
  mergedInto: string | null;
  erasedAt: Date | null;
  /** A reply that may be an opt-out waits for a human since then. */
  unclearSince: Date | null;
  /** Said STOP to everything; null again once they come back themselves. */
  stoppedAt: Date | null;
  /** Until then nothing we begin goes to them, as they wished; past, or null: no pause. */
  pausedUntil: Date | null;
  lastWroteAt: Date | null;
  /** BCP 47, as far as it is known. */
  language: string | null;
  /** What they inquired last; null: they never did. */
  asked: { kind: string; words: string; source: string } | null;
  /** A reply of theirs waits for an answer since then. */
  waitingSince: Date | null;
  createdAt: Date;
}

export const Person: EntitySchema<Person> = entity<Person>('Person', 'person', {
  id: key,
  workspaceId: text,
  number: maybe(text),
  firstName: maybe(text),
  lastName: maybe(text),
  email: maybe(text),
  region: maybe(text),
  postalCode: maybe(text),
  zone: maybe(text),
  lineType: text,
  numberState: text,
  emailState: text,
  further: maybe(texts),
  fields: json,
  source: text,
  stageId: maybe(text),
  ownerId: maybe(text),
  placeRegion: maybe(text),
  placeZones: maybe(texts),
  mergedInto: maybe(text),
  erasedAt: maybe(instant),
  unclearSince: maybe(instant),
  stoppedAt: maybe(instant),
  pausedUntil: maybe(instant),
  lastWroteAt: maybe(instant),
  language: maybe(text),
  asked: maybe(json),
  waitingSince: maybe(instant),
  createdAt: instant,
});

/** Where a person is reached: a number, an e-mail address, a chat id. Rank 0 is the preferred one of its kind. */
export interface Address {
  workspaceId: string;
  personId: string;
  kind: AddressKind;
  rank: number;
  value: string;
  state: AddressState;
  lineType: LineType;
  /** A phone there took no picture message. */
  noPictures: boolean;
  /** There is no voicemail behind it, as far as is known. */
  noVoicemail: boolean;
  /** Failures in a row to reach it. */
  failures: number;
  since: Date;
}

export const Address: EntitySchema<Address> = entity<Address>('Address', 'address', {
  workspaceId: text,
  personId: key,
  kind: key,
  rank: keyOf(integer),
  value: text,
  state: text,
  lineType: text,
  noPictures: boolean,
  noVoicemail: boolean,
  failures: integer,
  since: instant,
});

/** A tag or a list: both are named sets of people; a tag says what somebody is, a list what they are for. */
export interface Label {
  id: string;
  workspaceId: string;
  kind: 'tag' | 'list';
  name: string;
  createdAt: Date;
}

export const Label: EntitySchema<Label> = entity<Label>('Label', 'label', {
  id: key,
  workspaceId: text,
  kind: text,
  name: text,
  createdAt: instant,
});

export interface Stage {
  id: string;
  workspaceId: string;
  name: string;
  position: number;
  createdAt: Date;
}

export const Stage: EntitySchema<Stage> = entity<Stage>('Stage', 'stage', {
  id: key,
  workspaceId: text,
  name: text,
  position: integer,
  createdAt: instant,
});

/** The last day on which dates of people were told. */
export interface DateLook {
  workspaceId: string;
  day: string;
}

export const DateLook: EntitySchema<DateLook> = entity<DateLook>('DateLook', 'date_look', {
  workspaceId: key,
  day: day,
});

/** Two people who look like one. */
export interface DuplicatePair {
  workspaceId: string;
  oneId: string;
  otherId: string;
  reasons: string[];
  dismissedAt: Date | null;
  foundAt: Date;
}

export const DuplicatePair: EntitySchema<DuplicatePair> = entity<DuplicatePair>(
  'DuplicatePair',
  'duplicate_pair',
  {
    workspaceId: key,
    oneId: key,
    otherId: key,
    reasons: texts,
    dismissedAt: maybe(instant),
    foundAt: instant,
  },
);

/** The search for duplicates of a workspace. */
export interface DuplicateSearch {
  workspaceId: string;
  state: string;
  pairs: number;
  startedAt: Date;
  finishedAt: Date | null;
}

export const DuplicateSearch: EntitySchema<DuplicateSearch> = entity<DuplicateSearch>(
  'DuplicateSearch',
  'duplicate_search',
  {
    workspaceId: key,
    state: text,
    pairs: integer,
    startedAt: instant,
    finishedAt: maybe(instant),
  },
);

/** Two people that became one, with what is needed to take them apart. */
export interface Merge {
  id: string;
  workspaceId: string;
  keptId: string;
  goneId: string;
  keptBefore: unknown;
  goneBefore: unknown;
  moved: unknown;
  after: unknown;
  createdBy: string | null;
  at: Date;
  undoneAt: Date | null;
}

export const Merge: EntitySchema<Merge> = entity<Merge>('Merge', 'merge', {
  id: key,
  workspaceId: text,
  keptId: text,
  goneId: text,
  keptBefore: json,
  goneBefore: json,
  moved: json,
  after: json,
  createdBy: maybe(text),
  at: instant,
  undoneAt: maybe(instant),
});

/** A tag or list on somebody. */
export interface PersonLabel {
  workspaceId: string;
  labelId: string;
  personId: string;
  batchId: string | null;
  at: Date;
}

export const PersonLabel: EntitySchema<PersonLabel> = entity<PersonLabel>('PersonLabel', 'person_label', {
  workspaceId: key,
  labelId: key,
  personId: key,
  batchId: maybe(text),
  at: instant,
});

/** What a teammate chose for themselves. */
export interface Preference {
  workspaceId: string;
  accountId: string;
  key: string;
  value: unknown;
}

export const Preference: EntitySchema<Preference> = entity<Preference>('Preference', 'preference', {
  workspaceId: key,
  accountId: key,
  key: key,
  value: json,
});

/** What is left of an erased number. */
export interface Suppression {
  workspaceId: string;
  numberHash: string;
  since: Date;
}

export const Suppression: EntitySchema<Suppression> = entity<Suppression>('Suppression', 'suppression', {
  workspaceId: key,
  numberHash: key,
  since: instant,
});
