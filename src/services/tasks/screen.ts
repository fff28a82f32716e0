import { Membership } from '@/db/access/entities';
import { namesOfThings } from '@/db/audience/things';
import type { Millis } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { countTasks, readTasks, type TaskCounts, type TaskRow } from '@/db/tasks/tasks';
import type { Context } from '@/services/kit/context';
import { MOST_TASKS, openTasks, SHOWN } from './tasks';

/** Whose tasks are looked at. */
export const WHOSE_TASKS = ['mine', 'nobody', 'all'] as const;
export type WhoseTasks = (typeof WHOSE_TASKS)[number];

export interface TaskScreen {
  counts: TaskCounts;
  open: TaskRow[];
  settled: TaskRow[];
  teammates: { id: string; name: string }[];
  /** How whoever looks is told of new ones. */
  told: { byMail: boolean; followed: boolean };
}

/** Tasks of one account, of nobody yet, or of all. */
export async function readTaskScreen(
  ctx: Context,
  scope: Scope,
  whose: WhoseTasks,
  me: string,
): Promise<TaskScreen> {
  const member = await scope.em.findOneOrFail(Membership, { accountId: me });
  const of = { accountId: whose === 'mine' ? me : null, nobodys: whose === 'nobody' };
  return {
    counts: await countTasks(scope, me, new Date(ctx.now())),
    open: await readTasks(scope, { ...of, open: true, most: MOST_TASKS }),
    settled: await readTasks(scope, { ...of, open: false, most: 50, since: new Date(ctx.now() - SHOWN) }),
    teammates: await readTeammates(scope),
    told: { byMail: member.mailTasks, followed: member.calendarHash !== null },
  };
}

/** What Today shows: their own tasks, and how many are nobody's. */
export const readTasksOfToday = async (scope: Scope, accountId: string, now: Millis) => ({
  tasks: await openTasks(scope, accountId),
  counts: await countTasks(scope, accountId, new Date(now)),
});

export const readTeammates = async (scope: Scope): Promise<{ id: string; name: string }[]> =>
  (await namesOfThings(scope))
    .filter(({ kind }) => kind === 'teammate')
    .map(({ id, name }) => ({ id, name }));
