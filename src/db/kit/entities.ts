import type { EntitySchema } from '@mikro-orm/core';
import type { HappeningKind } from '@/core/happening/kinds';
import type { QueueName } from '@/core/work/queues';
import { big, entity, instant, integer, json, key, keyOf, maybe, text, texts } from './define';

/** Who did what; only ever added to. */
export interface AuditEntry {
  id: number;
  workspaceId: string;
  actor: string;
  action: string;
  subject: string;
  detail: unknown;
  at: Date;
}

export const AuditEntry: EntitySchema<AuditEntry> = entity<AuditEntry>('AuditEntry', 'audit_entry', {
  id: keyOf(big),
  workspaceId: text,
  actor: text,
  action: text,
  subject: text,
  detail: json,
  at: instant,
});

/** What happened to somebody; told by the tables themselves. */
export interface Happening {
  seq: number;
  workspaceId: string;
  personId: string;
  kind: HappeningKind;
  subject: string | null;
  detail: unknown;
  at: Date | null;
}

export const Happening: EntitySchema<Happening> = entity<Happening>('Happening', 'happening', {
  seq: keyOf(big),
  workspaceId: key,
  personId: text,
  kind: text,
  subject: maybe(text),
  detail: maybe(json),
  at: maybe(instant),
});

/** How far a consumer is. */
export interface HappeningCursor {
  consumer: string;
  workspaceId: string;
  afterSeq: number;
}

export const HappeningCursor: EntitySchema<HappeningCursor> = entity<HappeningCursor>(
  'HappeningCursor',
  'happening_cursor',
  {
    consumer: key,
    workspaceId: key,
    afterSeq: big,
  },
);

/** Kinds a consumer wants told although they are many. */
export interface HappeningWanted {
  consumer: string;
  workspaceId: string;
  kinds: HappeningKind[];
}

export const HappeningWanted: EntitySchema<HappeningWanted> = entity<HappeningWanted>(
  'HappeningWanted',
  'happening_wanted',
  {
    consumer: key,
    workspaceId: key,
    kinds: texts,
  },
);

/** A button or request that counts once. */
export interface Press {
  workspaceId: string;
  token: string;
  answer: unknown;
  /** What the request said, as a hash; null: presses on a screen. */
  said: string | null;
  at: Date;
}

export const Press: EntitySchema<Press> = entity<Press>('Press', 'press', {
  workspaceId: key,
  token: key,
  answer: maybe(json),
  said: maybe(text),
  at: instant,
});

/** A row of some queue that could not be worked on. */
export interface Trouble {
  queue: QueueName;
  rowId: string;
  workspaceId: string | null;
  tries: number;
  problem: string;
  detail: unknown;
  since: Date;
  nextTryAt: Date;
  asideAt: Date | null;
}

export const Trouble: EntitySchema<Trouble> = entity<Trouble>('Trouble', 'trouble', {
  queue: key,
  rowId: key,
  workspaceId: maybe(text),
  tries: integer,
  problem: text,
  detail: maybe(json),
  since: instant,
  nextTryAt: instant,
  asideAt: maybe(instant),
});

/** What a teammate is writing somewhere and has neither sent nor kept as what it is. */
export interface Unfinished {
  workspaceId: string;
  accountId: string;
  place: string;
  /** As JSON; only the page that wrote it reads it. */
  content: string;
  at: Date;
}

export const Unfinished: EntitySchema<Unfinished> = entity<Unfinished>('Unfinished', 'unfinished', {
  workspaceId: key,
  accountId: key,
  place: key,
  content: text,
  at: instant,
});
