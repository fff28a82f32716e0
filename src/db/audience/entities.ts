import { big, boolean, day, entity, instant, integer, json, key, keyOf, maybe, text } from '../kit/define';
import type { Condition } from '@/core/audience/condition';
import type { EntitySchema } from '@mikro-orm/core';
import type { OwnFieldKind } from '@/core/audience/fields';

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

/** How many people were in a segment on a day. */
export interface SegmentCount {
  workspaceId: string;
  segmentId: string;
  day: string;
  /** Of the segment then. */
  version: number;
  /** Null: it could not be counted. */
  people: number | null;
}

export const SegmentCount: EntitySchema<SegmentCount> = entity<SegmentCount>(
  'SegmentCount',
  'segment_count',
  {
    workspaceId: text,
    segmentId: key,
    day: keyOf(day),
    version: integer,
    people: maybe(integer),
  },
);

export interface Field {
  id: string;
  workspaceId: string;
  key: string;
  label: string;
  kind: OwnFieldKind;
  options: string[];
  position: number;
  /** Asked of teammates beside a thread. */
  noted: boolean;
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
  noted: boolean,
  archivedAt: maybe(instant),
  createdAt: instant,
});

/** What somebody did with what they were sent. */
export interface Engagement {
  id: number;
  workspaceId: string;
  personId: string;
  kind: string;
  textId: string | null;
  /** The send that was of. */
  sendId: string | null;
  at: Date;
  /** Of a click: the first on this message; the database says so. */
  first: boolean;
}

export const Engagement: EntitySchema<Engagement> = entity<Engagement>('Engagement', 'engagement', {
  id: keyOf(big),
  workspaceId: text,
  personId: text,
  kind: text,
  textId: maybe(text),
  sendId: maybe(text),
  at: instant,
  first: boolean,
});

/** Whom a segment is shared with. */
export interface SegmentShare {
  workspaceId: string;
  segmentId: string;
  accountId: string;
}

export const SegmentShare: EntitySchema<SegmentShare> = entity<SegmentShare>(
  'SegmentShare',
  'segment_share',
  {
    workspaceId: text,
    segmentId: key,
    accountId: key,
  },
);
