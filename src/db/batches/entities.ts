import type { EntitySchema } from '@mikro-orm/core';
import type { BatchState } from '@/core/batch/batch';
import { entity, instant, integer, json, key, keyOf, maybe, text } from '../kit/define';

/** Something done to a chosen set of people. */
export interface Batch {
  id: string;
  workspaceId: string;
  name: string;
  action: unknown;
  state: BatchState;
  paceCount: number | null;
  paceSeconds: number | null;
  startAt: Date;
  nextAt: Date;
  total: number;
  cursor: number;
  failed: number;
  undoCursor: number;
  kept: number;
  createdBy: string | null;
  createdAt: Date;
  updatedAt: Date;
  finishedAt: Date | null;
  problem: string | null;
}

export const Batch: EntitySchema<Batch> = entity<Batch>('Batch', 'batch', {
  id: key,
  workspaceId: text,
  name: text,
  action: json,
  state: text,
  paceCount: maybe(integer),
  paceSeconds: maybe(integer),
  startAt: instant,
  nextAt: instant,
  total: integer,
  cursor: integer,
  failed: integer,
  undoCursor: integer,
  kept: integer,
  createdBy: maybe(text),
  createdAt: instant,
  updatedAt: instant,
  finishedAt: maybe(instant),
  problem: maybe(text),
});

/** Somebody a batch means, and what became of it. */
export interface BatchPerson {
  workspaceId: string;
  batchId: string;
  seq: number;
  personId: string;
  outcome: string | null;
  reason: string | null;
  before: unknown;
}

export const BatchPerson: EntitySchema<BatchPerson> = entity<BatchPerson>('BatchPerson', 'batch_person', {
  workspaceId: text,
  batchId: key,
  seq: keyOf(integer),
  personId: text,
  outcome: maybe(text),
  reason: maybe(text),
  before: maybe(json),
});
