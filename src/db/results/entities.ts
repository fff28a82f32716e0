import type { EntitySchema } from '@mikro-orm/postgresql';
import type { ProofDocument } from '@/core/results/proof';
import type { Every, ReportPlace } from '@/core/results/report';
import { big, boolean, day, entity, instant, integer, json, key, keyOf, maybe, text } from '@/db/kit/define';

/**
 * A difference in a sum, written by triggers. About a `send`, or a `sender` number on a day (UTC): how many messages are in a
 * state (`what`; of those that failed with the reason), `block`: blocked ones by the reason that decides; what came back to a
 * number, by the day its message left, is `heard`. About a `day` of the
 * workspace and an `hour` of the week (`nth` since Monday began; `day` is the first of the month), of a program (`id`): what became
 * of messages by when they left, and what people did (`core/results/sums.ts`). About a `stay`: by the day somebody came, after
 * how many days (`nth`) they went, and in which of their months of 30 days they wrote.
 */
export interface Tally {
  seq: number;
  workspaceId: string;
  about: string;
  id: string;
  channel: string;
  day: string | null;
  nth: number | null;
  what: string;
  reason: string;
  n: number;
  parts: number;
  credits: number;
  together: boolean;
  /** Of what an erasure took away: it stays counted. */
  gone: boolean;
}

export const Tally: EntitySchema<Tally> = entity<Tally>('Tally', 'tally', {
  seq: keyOf(big),
  workspaceId: text,
  about: text,
  id: text,
  channel: text,
  day: maybe(day),
  nth: maybe(integer),
  what: text,
  reason: text,
  n: integer,
  parts: integer,
  credits: integer,
  together: boolean,
  gone: boolean,
});

/** Sums that are to be counted anew, from this month on until that day: the zone of the workspace changed. */
export interface SumsDue {
  workspaceId: string;
  month: string;
  until: string;
  /** The transaction that changed the zone: whoever began before it may still add by the old one. */
  since: number;
}

export const SumsDue: EntitySchema<SumsDue> = entity<SumsDue>('SumsDue', 'sums_due', {
  workspaceId: key,
  month: day,
  until: day,
  since: big,
});

/** A proof that was made. */
export interface Proof {
  id: string;
  workspaceId: string;
  personId: string | null;
  hash: string;
  /** Null: the person was erased since. */
  document: ProofDocument | null;
  madeBy: string | null;
  madeAt: Date;
}

export const Proof: EntitySchema<Proof> = entity<Proof>('Proof', 'proof', {
  id: key,
  workspaceId: text,
  personId: maybe(text),
  hash: text,
  document: maybe(json),
  madeBy: maybe(text),
  madeAt: instant,
});

/** A page of results that is kept under a name, sent by e-mail, or shown by a link that ends. */
export interface Report {
  id: string;
  workspaceId: string;
  name: string;
  place: ReportPlace;
  query: string;
  every: Every | null;
  atHour: number | null;
  recipients: string[];
  dueAt: Date | null;
  sentAt: Date | null;
  keyHash: string | null;
  keyEndsAt: Date | null;
  madeBy: string | null;
  madeAt: Date;
}

export const Report: EntitySchema<Report> = entity<Report>('Report', 'report', {
  id: key,
  workspaceId: text,
  name: text,
  place: text,
  query: text,
  every: maybe(text),
  atHour: maybe(integer),
  recipients: json,
  dueAt: maybe(instant),
  sentAt: maybe(instant),
  keyHash: maybe(text),
  keyEndsAt: maybe(instant),
  madeBy: maybe(text),
  madeAt: instant,
});
