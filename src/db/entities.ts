import type { EntitySchema } from '@mikro-orm/core';
import type { BroadcastState } from '@/core/broadcast/lifecycle';
import type { LineType, NumberState } from '@/core/clearance/clear';
import type { OwnHours } from '@/core/clearance/hours';
import type { RuleSet } from '@/core/clearance/rules';
import type { Registration, SenderKind } from '@/core/clearance/sender';
import type { Role } from '@/core/access/roles';
import type { Condition } from '@/core/audience/condition';
import type { OwnFieldKind } from '@/core/audience/fields';
import type { OwnValues } from '@/core/people/values';
import { boolean, double, entity, instant, integer, json, key, maybe, text, texts } from './kit/define';

export interface Workspace {
  id: string;
  slug: string;
  name: string;
  business: string;
  contact: string;
  country: string;
  zone: string;
  weeklyCap: number | null;
  creditsPerPart: number;
  creditBalance: number;
  /** Null: the shipped rules. */
  rules: RuleSet | null;
  createdAt: Date;
}

export const Workspace: EntitySchema<Workspace> = entity<Workspace>('Workspace', 'workspace', {
  id: key,
  slug: text,
  name: text,
  business: text,
  contact: text,
  country: text,
  zone: text,
  weeklyCap: maybe(integer),
  creditsPerPart: integer,
  creditBalance: integer,
  rules: maybe(json),
  createdAt: instant,
});

export interface Account {
  id: string;
  email: string;
  name: string;
  passwordHash: string;
  createdAt: Date;
}

export const Account: EntitySchema<Account> = entity<Account>('Account', 'account', {
  id: key,
  email: text,
  name: text,
  passwordHash: text,
  createdAt: instant,
});

export interface Membership {
  workspaceId: string;
  accountId: string;
  role: Role;
}

export const Membership: EntitySchema<Membership> = entity<Membership>('Membership', 'membership', {
  workspaceId: key,
  accountId: key,
  role: text,
});

export interface Session {
  /** SHA-256 of the token in the cookie: a copy of the table opens no door. */
  id: string;
  accountId: string;
  workspaceId: string;
  userAgent: string;
  createdAt: Date;
  expiresAt: Date;
}

export const Session: EntitySchema<Session> = entity<Session>('Session', 'session', {
  id: key,
  accountId: text,
  workspaceId: text,
  userAgent: text,
  createdAt: instant,
  expiresAt: instant,
});

export interface ApiKey {
  id: string;
  workspaceId: string;
  name: string;
  hash: string;
  /** The last four characters, to tell keys apart. */
  hint: string;
  createdAt: Date;
  lastUsedAt: Date | null;
  revokedAt: Date | null;
}

export const ApiKey: EntitySchema<ApiKey> = entity<ApiKey>('ApiKey', 'api_key', {
  id: key,
  workspaceId: text,
  name: text,
  hash: text,
  hint: text,
  createdAt: instant,
  lastUsedAt: maybe(instant),
  revokedAt: maybe(instant),
});

export interface Person {
  id: string;
  workspaceId: string;
  number: string;
  firstName: string | null;
  lastName: string | null;
  email: string | null;
  region: string | null;
  postalCode: string | null;
  zone: string | null;
  lineType: LineType;
  numberState: NumberState;
  unreachableCount: number;
  /** The workspace's own fields by key: text in the form of the field's kind, or a list where several are chosen. */
  fields: OwnValues;
  source: string;
  stageId: string | null;
  ownerId: string | null;
  /** Where they are, worked out from number and address; null: not known. */
  placeRegion: string | null;
  placeZones: string[] | null;
  /** The person this one was merged into: what is asked of this one is asked of that. */
  mergedInto: string | null;
  erasedAt: Date | null;
  /** A reply that may be an opt-out waits for a human since then. */
  unclearSince: Date | null;
  /** Said STOP to everything; null again once they come back themselves. */
  stoppedAt: Date | null;
  lastWroteAt: Date | null;
  /** A reply of theirs waits for an answer since then. */
  waitingSince: Date | null;
  createdAt: Date;
}

export const Person: EntitySchema<Person> = entity<Person>('Person', 'person', {
  id: key,
  workspaceId: text,
  number: text,
  firstName: maybe(text),
  lastName: maybe(text),
  email: maybe(text),
  region: maybe(text),
  postalCode: maybe(text),
  zone: maybe(text),
  lineType: text,
  numberState: text,
  unreachableCount: integer,
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
  lastWroteAt: maybe(instant),
  waitingSince: maybe(instant),
  createdAt: instant,
});

export interface SenderNumberRow {
  id: string;
  workspaceId: string;
  number: string;
  kind: SenderKind;
  sms: boolean;
  voice: boolean;
  registration: Registration;
  registrationNote: string | null;
  partsPerSecond: number;
  dailyCap: number | null;
  nextFreeAt: Date;
  throttledInARow: number;
  createdAt: Date;
}

export const SenderNumberRow: EntitySchema<SenderNumberRow> = entity<SenderNumberRow>(
  'SenderNumber',
  'sender_number',
  {
    id: key,
    workspaceId: text,
    number: text,
    kind: text,
    sms: boolean,
    voice: boolean,
    registration: text,
    registrationNote: maybe(text),
    partsPerSecond: double,
    dailyCap: maybe(integer),
    nextFreeAt: instant,
    throttledInARow: integer,
    createdAt: instant,
  },
);

export interface Program {
  id: string;
  workspaceId: string;
  name: string;
  purpose: 'marketing' | 'recurring' | 'utility' | 'inquiry';
  promiseCount: number | null;
  promisePeriod: 'week' | 'month';
  welcome: string;
  doubleOptIn: boolean;
  ownHours: OwnHours | null;
  archivedAt: Date | null;
  createdAt: Date;
}

export const Program: EntitySchema<Program> = entity<Program>('Program', 'program', {
  id: key,
  workspaceId: text,
  name: text,
  purpose: text,
  promiseCount: maybe(integer),
  promisePeriod: text,
  welcome: text,
  doubleOptIn: boolean,
  ownHours: maybe(json),
  archivedAt: maybe(instant),
  createdAt: instant,
});

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
  word: string;
  createdAt: Date;
}

export const KeywordRow: EntitySchema<KeywordRow> = entity<KeywordRow>('Keyword', 'keyword', {
  id: key,
  workspaceId: text,
  programId: text,
  word: text,
  createdAt: instant,
});

export interface Broadcast {
  id: string;
  workspaceId: string;
  programId: string;
  name: string;
  /** Unicode MessageFormat 2. */
  body: string;
  state: BroadcastState;
  sendAt: Date | null;
  begunAt: Date | null;
  finishedAt: Date | null;
  /** The last person prepared: preparing goes on from here after a restart. */
  cursor: string;
  /** Who is meant; null: everybody of the program. */
  audience: Condition | null;
  createdBy: string | null;
  createdAt: Date;
  updatedAt: Date;
}

export const Broadcast: EntitySchema<Broadcast> = entity<Broadcast>('Broadcast', 'broadcast', {
  id: key,
  workspaceId: text,
  programId: text,
  name: text,
  body: text,
  state: text,
  sendAt: maybe(instant),
  begunAt: maybe(instant),
  finishedAt: maybe(instant),
  cursor: text,
  audience: maybe(json),
  createdBy: maybe(text),
  createdAt: instant,
  updatedAt: instant,
});

export interface Field {
  id: string;
  workspaceId: string;
  key: string;
  label: string;
  kind: OwnFieldKind;
  options: string[];
  position: number;
  /** Put away: values stay, and come back with it. */
  archivedAt: Date | null;
  createdAt: Date;
}

export const Field: EntitySchema<Field> = entity<Field>('Field', 'field', {
  id: key,
  workspaceId: text,
  key: text,
  label: text,
  kind: text,
  options: json,
  position: integer,
  archivedAt: maybe(instant),
  createdAt: instant,
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

export interface Segment {
  id: string;
  workspaceId: string;
  name: string;
  condition: Condition;
  /** Columns of the table when it is shown so; empty: the usual ones. */
  columns: string[];
  sort: string;
  pinned: boolean;
  position: number;
  shared: 'me' | 'some' | 'all';
  ownerId: string;
  /** Counts up at each change: who saves an older one is told. */
  version: number;
  createdAt: Date;
  updatedAt: Date;
}

export const Segment: EntitySchema<Segment> = entity<Segment>('Segment', 'segment', {
  id: key,
  workspaceId: text,
  name: text,
  condition: json,
  columns: json,
  sort: text,
  pinned: boolean,
  position: integer,
  shared: text,
  ownerId: text,
  version: integer,
  createdAt: instant,
  updatedAt: instant,
});

/** Tables that hot paths write in batches (texts, parts, ledgers) are written in SQL: see `queries/`. */
export const ENTITIES = [
  Workspace,
  Account,
  Membership,
  Session,
  ApiKey,
  Person,
  SenderNumberRow,
  Program,
  ProgramSender,
  KeywordRow,
  Broadcast,
  Field,
  Label,
  Stage,
  Segment,
];
