import { Membership } from '@/db/access/entities';
import { namesOfThings } from '@/db/audience/things';
import type { Scope } from '@/db/kit/scope';
import type { TaskRow } from '@/db/tasks/tasks';
import type { Context } from '@/services/kit/context';
import { openTasks, settledTasks } from './tasks';

export interface TaskScreen {
  open: TaskRow[];
  settled: TaskRow[];
  teammates: { id: string; name: string }[];
  /** How whoever looks is told of new ones. */
  told: { byMail: boolean; followed: boolean };
}

/** Tasks of one account, or of all (null). */
export async function readTaskScreen(
  ctx: Context,
  scope: Scope,
  accountId: string | null,
  me: string,
): Promise<TaskScreen> {
  const member = await scope.em.findOneOrFail(Membership, { accountId: me });
  return {
    open: await openTasks(scope, accountId),
    settled: await settledTasks(ctx, scope, accountId),
    teammates: await readTeammates(scope),
    told: { byMail: member.mailTasks, followed: member.calendarHash !== null },
  };
}

export const readTeammates = async (scope: Scope): Promise<{ id: string; name: string }[]> =>
  (await namesOfThings(scope))
    .filter(({ kind }) => kind === 'teammate')
    .map(({ id, name }) => ({ id, name }));
