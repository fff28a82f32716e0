import type { EntitySchema } from '@mikro-orm/core';
import { entity, instant, key, maybe, text } from '../kit/define';

export type TaskState = 'open' | 'done' | 'over';

/** Something a teammate is asked to do, mostly about a person. */
export interface Task {
  id: string;
  workspaceId: string;
  personId: string | null;
  title: string;
  /** Whose it is; null: nobody's yet. */
  accountId: string | null;
  /** `over`: it ended by itself, since there is nothing left to do. */
  state: TaskState;
  dueAt: Date;
  note: string | null;
  /** Where it came from: `sequence`, `question`, `hand` or `api`, and the id of it. */
  source: 'sequence' | 'question' | 'hand' | 'api';
  sourceId: string | null;
  createdBy: string | null;
  createdAt: Date;
  settledAt: Date | null;
  settledBy: string | null;
}

export const Task: EntitySchema<Task> = entity<Task>('Task', 'task', {
  id: key,
  workspaceId: text,
  personId: maybe(text),
  title: text,
  accountId: maybe(text),
  state: text,
  dueAt: instant,
  note: maybe(text),
  source: text,
  sourceId: maybe(text),
  createdBy: maybe(text),
  createdAt: instant,
  settledAt: maybe(instant),
  settledBy: maybe(text),
});
