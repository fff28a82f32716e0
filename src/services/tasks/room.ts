import { OF_ERASED } from '@/db/kit/erasure';
import { giveBackTasks, moveTasks, TASKS_OWNED } from '@/db/tasks/tasks';
import type { Room } from '@/services/kit/room';
import { TASKS_API } from './api';
import { TASKS_FOLLOW } from './tasks';

export const TASKS: Room = {
  name: 'tasks',
  consumers: [TASKS_FOLLOW],
  api: TASKS_API,
  merge: (scope, { keptId, goneId }) => moveTasks(scope, keptId, goneId),
  unmerge: (scope, { goneId }, moved) => giveBackTasks(scope, goneId, (moved as string[] | undefined) ?? []),
  erasures: [`delete from task where ${OF_ERASED}`],
  owned: [TASKS_OWNED],
};
