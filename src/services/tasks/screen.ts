import { namesOfThings } from '@/db/audience/things';
import type { Scope } from '@/db/kit/scope';
import type { TaskRow } from '@/db/tasks/tasks';
import type { Context } from '@/services/kit/context';
import { openTasks, settledTasks } from './tasks';

export interface TaskScreen {
  open: TaskRow[];
  settled: TaskRow[];
  teammates: { id: string; name: string }[];
}

/** Tasks of one account, or of all (null). */
export async function readTaskScreen(
  ctx: Context,
  scope: Scope,
  accountId: string | null,
): Promise<TaskScreen> {
  return {
    open: await openTasks(scope, accountId),
    settled: await settledTasks(ctx, scope, accountId),
    teammates: await readTeammates(scope),
  };
}

export const readTeammates = async (scope: Scope): Promise<{ id: string; name: string }[]> =>
  (await namesOfThings(scope))
    .filter(({ kind }) => kind === 'teammate')
    .map(({ id, name }) => ({ id, name }));
