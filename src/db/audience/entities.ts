import type { Condition } from '@/core/audience/condition';
import type { EntitySchema } from '@mikro-orm/core';
import { entity, key, text, json, boolean, integer, instant, maybe } from '@/db/kit/define';
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
