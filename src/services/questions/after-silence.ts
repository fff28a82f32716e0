import { afterSilence, patienceOf } from '@/core/question/next';
import { askedOf } from '@/core/question/fields';
import type { AskingState } from '@/core/question/lifecycle';
import { DAY } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import { askingsDue, leaveAskings, settleStep, unansweredOf } from '@/db/questions/askings';
import { Asking } from '@/db/questions/entities';
import { insertTasks } from '@/db/tasks/tasks';
import { displayNumber } from '@/core/phone/number';
import { ownFields } from '@/services/audience/own-fields';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import type { Consumer } from '@/services/kit/happenings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { notFound } from '@/services/kit/validation';
import { tellOfTasks } from '@/services/tasks/tell';
import { ask, say } from './ask';
import { linkText, makeLink } from './personal-link';

/** Questions nobody answered in time, and personal links nobody filled in. */
export const ASKING_QUEUE: Queue = {
  name: 'asking',
  rows: {
    named: `(select coalesce(p.number, p.id) from asking a join person p on p.id = a.person_id where a.id = x.row_id)`,
    waits: `exists (select 1 from asking a where a.id = x.row_id and a.due_at is not null)`,
  },
  everyMs: 2_000,
  wakes: true,
  due: async (reading, untroubled, at) => asDue(await askingsDue(reading, untroubled('a.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    acrossWorkspaces(ctx.orm, (crossing) => actOnSilence(ctx, crossing.within(workspaceId!), id)),
  giveUp: async (ctx, scope, id, actor) => {
    const asking = await scope.em.findOne(Asking, { id, state: ['open', 'linked'] });
    if (!asking) return notFound('asking');
    await settle(ctx, scope, asking, 'given-up');
    await writeAudit(ctx, scope, actor, 'asking.given-up', id);
    return ok(null);
  },
};

/** Asks once more, or does what follows where nothing came. False: it is not waited any more. */
async function actOnSilence(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const now = ctx.now();
  await scope.run(`select 1 from asking where workspace_id = :workspace and id = :id for update`, { id });
  const asking = await scope.em.findOne(Asking, { id }, { refresh: true });
  if (!asking?.dueAt || asking.dueAt.getTime() > now) return false;
  if (asking.state === 'linked') {
    await handOrEnd(ctx, scope, asking, await unansweredOf(scope, asking), 'given-up');
    return true;
  }
  if (afterSilence(asking).do === 'again') {
    Object.assign(asking, { times: 2, dueAt: new Date(now + patienceOf(2)) });
    await scope.em.flush();
    await ask(ctx, scope, asking, { kind: 'asking-again' });
    return true;
  }
  await settleStep(scope, asking, 'silent', new Date(now));
  await followOnSilence(ctx, scope, asking, 'given-up');
  return true;
}

/**
 * What follows where questions brought nothing: a personal link, else a task. With every question settled and nothing
 * left to ask, it ends as `otherwise`. True: something follows.
 */
export async function followOnSilence(
  ctx: Context,
  scope: Scope,
  asking: Asking,
  otherwise: 'answered' | 'given-up',
): Promise<boolean> {
  const missing = await unansweredOf(scope, asking);
  if (missing.length > 0 && asking.linkDays !== null) {
    const expires = new Date(ctx.now() + asking.linkDays * DAY);
    const link = await makeLink(ctx, scope, {
      ...{ personId: asking.personId, fields: missing, askingId: asking.id, madeBy: null, expires },
    });
    const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
    await say(ctx, scope, asking, linkText(workspace.business, missing.length, link), {
      kind: 'asking-again',
    });
    await settle(ctx, scope, asking, 'linked', expires);
    return true;
  }
  return handOrEnd(ctx, scope, asking, missing, otherwise);
}

/** A task for what is missing, where the keyword wants one; else it ends. True: something follows. */
async function handOrEnd(
  ctx: Context,
  scope: Scope,
  asking: Asking,
  missing: readonly string[],
  otherwise: 'answered' | 'given-up',
): Promise<boolean> {
  const hands = missing.length > 0 && asking.taskAfter;
  if (hands) await hand(ctx, scope, asking, missing);
  else await settle(ctx, scope, asking, otherwise);
  return hands;
}

/** A teammate is to ask: whose person it is, or whoever takes it. */
async function hand(ctx: Context, scope: Scope, asking: Asking, missing: readonly string[]): Promise<void> {
  const now = new Date(ctx.now());
  const person = await scope.em.findOneOrFail(Person, { id: asking.personId }, { refresh: true });
  const own = await ownFields(scope, true);
  const wanted = missing.map((field) => askedOf(field, own)?.label ?? field).join(', ');
  const name = [person.firstName, person.lastName].filter(Boolean).join(' ');
  const called = name || (person.number ? displayNumber(person.number) : 'somebody');
  const title = `Complete the record of ${called}: ${wanted}`;
  await insertTasks(scope, [
    {
      ...{ id: ctx.id('tsk'), personId: person.id, title, accountId: person.ownerId, dueAt: now },
      ...{ note: null, source: 'question', sourceId: asking.id, createdBy: null, createdAt: now },
    },
  ]);
  await tellOfTasks(ctx, scope, [{ accountId: person.ownerId, title }]);
  await settle(ctx, scope, asking, 'handed');
  await announce(scope, false);
}

async function settle(
  ctx: Context,
  scope: Scope,
  asking: Asking,
  state: AskingState,
  dueAt: Date | null = null,
): Promise<void> {
  Object.assign(asking, { state, dueAt, settledAt: dueAt === null ? new Date(ctx.now()) : null });
  await scope.em.flush();
}

/** In a restored copy: whose silence was over may have been asked again from the original. They are asked nothing more by text. */
export async function restoreAskings(ctx: Context, scope: Scope): Promise<Record<string, number>> {
  const silent = await scope.em.find(Asking, { state: 'open', dueAt: { $lte: new Date(ctx.now()) } });
  for (const asking of silent)
    await handOrEnd(ctx, scope, asking, await unansweredOf(scope, asking), 'given-up');
  return { 'people are asked nothing more, who may have been asked again since': silent.length };
}

/** Whoever leaves a program is asked nothing more for it. */
export const QUESTIONS_FOLLOW: Consumer = {
  name: 'questions',
  follows: async (scope) =>
    (await scope.em.count(Asking, { dueAt: { $ne: null } })) > 0 ? ['program.left'] : [],
  take: async (_, scope, happenings) => {
    for (const { personId, subject, at } of happenings)
      await leaveAskings(scope, personId, at, { programId: subject });
  },
};
