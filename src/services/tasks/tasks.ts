import { DAY, parseInstant, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { clean } from '@/core/people/values';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import { Task } from '@/db/tasks/entities';
import { endTasksOf, insertTasks, readTasks, type TaskRow } from '@/db/tasks/tasks';
import { ownsPeople } from '@/services/access/teammates';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import type { Consumer } from '@/services/kit/happenings';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import type { ChangeTaskInput, TaskInput } from './inputs';
import { tellOfTasks } from './tell';

/** A task by hand or by the API. */
export async function createTask(
  ctx: Context,
  scope: Scope,
  input: TaskInput,
  source: 'hand' | 'api',
  actor: Actor,
): Promise<Result<Task, Refusal>> {
  if (input.person !== undefined && !(await scope.em.findOne(Person, { id: input.person, erasedAt: null })))
    return invalid('person', 'person: there is no such person here.');
  if (input.account !== undefined && !(await ownsPeople(scope, input.account)))
    return invalid('account', 'account: there is no such teammate here.');
  const id = ctx.id('tsk');
  await insertTasks(scope, [
    {
      ...{ id, personId: input.person ?? null, title: clean(input.title), accountId: input.account ?? null },
      ...{ dueAt: new Date(parseInstant(input.due)!), note: null, source, sourceId: null },
      ...{ createdBy: actor.accountId, createdAt: new Date(ctx.now()) },
    },
  ]);
  if (input.account !== actor.accountId)
    await tellOfTasks(ctx, scope, [{ accountId: input.account ?? null, title: clean(input.title) }]);
  await writeAudit(ctx, scope, actor.name, 'task.created', id);
  return ok(await scope.em.findOneOrFail(Task, { id }));
}

/** Done, later, handed on, or open again; with a note. */
export async function changeTask(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeTaskInput,
  actor: Actor,
): Promise<Result<Task, Refusal>> {
  const task = await scope.em.findOne(Task, { id });
  if (!task) return notFound('task');
  const changed = await apply(ctx, scope, task, input, actor);
  if (!changed.ok) return changed;
  const note = clean(input.note ?? '');
  if (note !== '') task.note = task.note ? `${task.note}\n${note}` : note;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, `task.${input.verb}`, id);
  return ok(task);
}

async function apply(
  ctx: Context,
  scope: Scope,
  task: Task,
  { verb, due, account }: ChangeTaskInput,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const wasOpen = task.state === 'open';
  if (verb === 'again') {
    if (wasOpen) return conflict('state', 'state: it is open already.');
    Object.assign(task, { state: 'open', settledAt: null, settledBy: null });
    return ok(null);
  }
  if (!wasOpen) return conflict('state', 'state: it is done or over already. Open it again first.');
  if (verb === 'done') {
    Object.assign(task, {
      state: 'done',
      settledAt: new Date(ctx.now()),
      settledBy: actor.accountId ?? actor.name,
    });
    return ok(null);
  }
  if (verb === 'later') {
    if (due === undefined) return invalid('due', 'due: say until when.');
    task.dueAt = new Date(parseInstant(due)!);
    return ok(null);
  }
  if (account !== undefined && !(await ownsPeople(scope, account)))
    return invalid('account', 'account: there is no such teammate here.');
  task.accountId = account ?? null;
  if (task.accountId !== actor.accountId)
    await tellOfTasks(ctx, scope, [{ accountId: task.accountId, title: task.title }]);
  return ok(null);
}

/** Tasks a list shows at most. */
export const MOST_TASKS = 200;

/** Tasks that are over are shown so long. */
export const SHOWN: Millis = 14 * DAY;

export const openTasks = (scope: Scope, accountId: string | null): Promise<TaskRow[]> =>
  readTasks(scope, { accountId, open: true, most: MOST_TASKS });

export const tasksOfPerson = (scope: Scope, personId: string): Promise<TaskRow[]> =>
  readTasks(scope, { personId, open: true, most: 50 });

/** A task to call or ask somebody is over when they write: what it asked for is here. */
export const TASKS_FOLLOW: Consumer = {
  name: 'tasks',
  follows: async (scope) => ((await scope.em.count(Task, { state: 'open' })) > 0 ? ['reply.received'] : []),
  take: async (ctx, scope, happenings) => {
    const replied = happenings.filter(({ detail }) => detail.meaning === 'reply');
    const ended = await endTasksOf(
      scope,
      replied.map(({ personId, at }) => ({ personId, at })),
      new Date(ctx.now()),
    );
    if (ended > 0) await announce(scope, false);
  },
};
