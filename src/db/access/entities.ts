import type { AssignmentRule } from '@/core/inquiry/assign';
import {
  big,
  boolean,
  double,
  entity,
  instant,
  integer,
  json,
  key,
  keyOf,
  maybe,
  text,
  texts,
} from '../kit/define';
import type { CreditsAhead } from '@/core/credits/forecast';
import type { PriceRule } from '@/core/credits/prices';
import type { RuleSet } from '@/core/clearance/rules';
import type { EntitySchema } from '@mikro-orm/core';
import type { SendLimits } from '@/core/broadcast/limits';
import type { WordingSettings } from '@/core/wording/settings';
import type { DutyHours } from '@/core/inquiry/on-duty';
import type { Role } from '@/core/access/roles';

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
  /** Of a picture message, however many files it carries. */
  creditsPerPicture: number;
  creditBalance: number;
  /** What costs otherwise than usual. */
  prices: PriceRule[];
  /** Credits that what is begun may cost in a day; null: no limit. */
  dailyCredits: number | null;
  /** When there will be too few for what is ahead, as last worked out; null: not within a month. */
  enoughUntil: Date | null;
  /** What was worked out then; null: nothing yet. */
  creditsAhead: CreditsAhead | null;
  /** When owners and managers were last told that it is soon; null: it is not. */
  lowToldAt: Date | null;
  /** A number that is unwell is rested by itself. */
  restsUnwell: boolean;
  /** When its numbers are looked at next, and when what is ahead of its credits. */
  numbersAt: Date;
  creditsAt: Date;
  /** How long a call takes, with what is written down after it. */
  callSeconds: number;
  /** The share of calls back that may find nobody free. */
  mayBeBusy: number;
  /** Who e-mail is from: its address and name, and the postal address that stands under it. */
  mailFrom: string | null;
  mailName: string | null;
  postalAddress: string | null;
  /** Null: the shipped rules. */
  rules: RuleSet | null;
  /** Whoever nearly types a keyword is asked whether they meant it. */
  asksNearMisses: boolean;
  /** Where their terms and their privacy page are; null: not told. */
  termsUrl: string | null;
  privacyUrl: string | null;
  /** What their short links begin with, such as `https://go.example.org`; null: our own address. */
  linkBase: string | null;
  /** From which shares on a broadcast is held by itself; null: as it ships. */
  sendLimits: SendLimits | null;
  /** How its wordings are checked. */
  wording: WordingSettings;
  /** Within which a plain reply should be answered. */
  replyMinutes: number;
  /** Who gets what somebody writes that is nobody’s; null: it stays nobody’s. */
  replyRule: AssignmentRule | null;
  /** What messages of months before so many said is put away; null: nothing is. */
  putAwayMonths: number | null;
  /** The last message that was looked at for it, and when it is looked at next. */
  putAwayAfter: string;
  putAwayAt: Date;
  /** Counts changes: who writes over one they did not see is told. */
  stamp: number;
  createdAt: Date;
  /** Its owners sign in with a second factor. */
  ownersNeedFactor: boolean;
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
  creditsPerPicture: integer,
  creditBalance: big,
  prices: json,
  dailyCredits: maybe(integer),
  enoughUntil: maybe(instant),
  creditsAhead: maybe(json),
  lowToldAt: maybe(instant),
  restsUnwell: boolean,
  ...{ numbersAt: instant, creditsAt: instant },
  callSeconds: integer,
  mayBeBusy: double,
  mailFrom: maybe(text),
  mailName: maybe(text),
  postalAddress: maybe(text),
  rules: maybe(json),
  asksNearMisses: boolean,
  termsUrl: maybe(text),
  privacyUrl: maybe(text),
  linkBase: maybe(text),
  sendLimits: maybe(json),
  wording: json,
  replyMinutes: integer,
  replyRule: maybe(json),
  putAwayMonths: maybe(integer),
  putAwayAfter: text,
  putAwayAt: instant,
  stamp: integer,
  createdAt: instant,
  ownersNeedFactor: boolean,
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
  /** Tasks are told by e-mail too. */
  mailTasks: boolean;
  /** SHA-256 of the key in the address of the calendar they follow; null: nobody follows it. */
  calendarHash: string | null;
  /** The same of an address that follows what is sent. */
  sendsCalendarHash: string | null;
  /** When they answer people; empty: at any hour. */
  duty: DutyHours[];
  awayUntil: Date | null;
  /** Inquiries are told by e-mail too. */
  mailInquiries: boolean;
  /** And by text, to their own number, once it is proved. */
  textInquiries: boolean;
  /** Threads that are given to them, that are back, and notes that call them are told by e-mail too; and by text, to their own number. */
  mailThreads: boolean;
  textThreads: boolean;
  /** They take calls back, when they are on. */
  takesCalls: boolean;
}

export const Membership: EntitySchema<Membership> = entity<Membership>('Membership', 'membership', {
  workspaceId: key,
  accountId: key,
  role: text,
  mailTasks: boolean,
  calendarHash: maybe(text),
  sendsCalendarHash: maybe(text),
  duty: json,
  awayUntil: maybe(instant),
  mailInquiries: boolean,
  textInquiries: boolean,
  mailThreads: boolean,
  textThreads: boolean,
  takesCalls: boolean,
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
  /** What it may do; null: everything. */
  scopes: string[] | null;
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
  scopes: maybe(texts),
});

/** A request that came with a key. */
export interface ApiCall {
  seq: number;
  workspaceId: string;
  keyId: string;
  at: Date;
  method: string;
  /** Without what would name somebody. */
  path: string;
  status: number;
  ms: number;
  /** Its id in the log. */
  request: string | null;
}

export const ApiCall: EntitySchema<ApiCall> = entity<ApiCall>('ApiCall', 'api_call', {
  seq: keyOf(big),
  workspaceId: text,
  keyId: text,
  at: instant,
  method: text,
  path: text,
  status: integer,
  ms: integer,
  request: maybe(text),
});

/** Codes of an app, beside a password. */
export interface SecondFactor {
  accountId: string;
  /** In base 32, as apps take it. */
  secret: string;
  madeAt: Date;
  /** Null: it was shown, and no code of it was given yet. */
  confirmedAt: Date | null;
  /** The step of the last code that counted. */
  lastStep: number;
}

export const SecondFactor: EntitySchema<SecondFactor> = entity<SecondFactor>(
  'SecondFactor',
  'second_factor',
  {
    accountId: key,
    secret: text,
    madeAt: instant,
    confirmedAt: maybe(instant),
    lastStep: big,
  },
);

/** A code on paper, for when the app is gone; only its hash is kept. */
export interface RecoveryCode {
  accountId: string;
  hash: string;
  usedAt: Date | null;
}

export const RecoveryCode: EntitySchema<RecoveryCode> = entity<RecoveryCode>(
  'RecoveryCode',
  'recovery_code',
  {
    accountId: key,
    hash: key,
    usedAt: maybe(instant),
  },
);

/** Failed sign-ins. */
export interface SignInTry {
  key: string;
  tries: number;
  since: Date;
}

export const SignInTry: EntitySchema<SignInTry> = entity<SignInTry>('SignInTry', 'sign_in_try', {
  key: key,
  tries: integer,
  since: instant,
});

/** Somebody is asked to work here. */
export interface Invitation {
  id: string;
  workspaceId: string;
  email: string;
  name: string;
  role: Role;
  /** SHA-256 of the key in the link. */
  hash: string;
  createdBy: string;
  createdAt: Date;
  expiresAt: Date;
  acceptedAt: Date | null;
  revokedAt: Date | null;
}

export const Invitation: EntitySchema<Invitation> = entity<Invitation>('Invitation', 'invitation', {
  id: key,
  workspaceId: text,
  email: text,
  name: text,
  role: text,
  hash: text,
  createdBy: text,
  createdAt: instant,
  expiresAt: instant,
  acceptedAt: maybe(instant),
  revokedAt: maybe(instant),
});

/** Where the first owner comes in, once. */
export interface FirstDoor {
  /** SHA-256 of the key in the link. */
  hash: string;
  createdAt: Date;
  usedAt: Date | null;
}

export const FirstDoor: EntitySchema<FirstDoor> = entity<FirstDoor>('FirstDoor', 'first_door', {
  hash: key,
  createdAt: instant,
  usedAt: maybe(instant),
});

/** A role of the database that reads the views of one workspace. */
export interface Reader {
  role: string;
  workspaceId: string;
  createdAt: Date;
}

export const Reader: EntitySchema<Reader> = entity<Reader>('Reader', 'reader', {
  role: key,
  workspaceId: text,
  createdAt: instant,
});
