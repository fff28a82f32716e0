import { addDays, dayOf } from '@/core/audience/days';
import { isBack, restUntil, silentWithout, type Restable } from '@/core/numbers/rest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { displayNumber } from '@/core/phone/number';
import { clean } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { numberDays } from '@/db/numbers/standing';
import { poolsOf, workspacesWithNumbers } from '@/db/numbers/numbers';
import { writeToManagers } from '@/services/email/teammate-mail';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { publicUrl } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';
import type { RestInput } from './inputs';
import { rowsWithStanding, type Standing } from './screen';

/** Nothing is begun from it for some days; what is written to it is answered from it. */
export async function restNumber(
  ctx: Context,
  scope: Scope,
  id: string,
  { days, why }: RestInput,
  actor: Actor,
): Promise<Result<SenderNumberRow, Refusal>> {
  const sender = await scope.em.findOne(SenderNumberRow, { id, releasedAt: null });
  if (!sender) return notFound('sender number');
  if (sender.restedAt) return conflict('id', 'id: it rests already.');
  const silent = await silentBy(scope, id, await rowsWithStanding(scope, ctx.now()));
  if (silent !== null)
    return conflict(
      'id',
      `id: ${silent} would have no other number that is registered and well. Give it one first.`,
    );
  await rest(ctx, scope, sender, {
    ...{ until: ctx.now() + days * DAY, by: 'hand', why: clean(why ?? '') || 'by hand' },
    actor: actor.name,
  });
  return ok(sender);
}

/** It carries again: little at first, and what it used to after some days. */
export async function bringNumberBack(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<SenderNumberRow, Refusal>> {
  const sender = await scope.em.findOne(SenderNumberRow, { id, releasedAt: null });
  if (!sender) return notFound('sender number');
  if (!sender.restedAt) return conflict('id', 'id: it does not rest.');
  await bringBack(ctx, scope, sender, actor.name);
  return ok(sender);
}

/** Whether a number that is unwell is rested by itself. */
export async function setRestRule(
  ctx: Context,
  scope: Scope,
  rests: boolean,
  { name: actor }: Actor,
): Promise<Result<null, Refusal>> {
  await scope.em.nativeUpdate(Workspace, { id: scope.workspaceId }, { restsUnwell: rests });
  await writeAudit(ctx, scope, actor, 'numbers.rest-rule', scope.workspaceId, { rests });
  return ok(null);
}

/** The program that could not write any more without a number; null: none. */
async function silentBy(
  scope: Scope,
  id: string,
  standings: readonly Omit<Standing, 'use'>[],
): Promise<string | null> {
  const known = new Map(standings.map((one) => [one.id, restable(one)]));
  const pools = await poolsOf(scope, id);
  const place = silentWithout(
    id,
    pools.map(({ senders }) => senders.flatMap((one) => known.get(one) ?? [])),
  );
  return place < 0 ? null : pools[place]!.program;
}

const restable = ({ id, standing, registration, rested_at: rested }: Omit<Standing, 'use'>): Restable => ({
  ...{ id, state: standing.state, registered: registration === 'registered', resting: rested !== null },
});

async function rest(
  ctx: Context,
  scope: Scope,
  sender: SenderNumberRow,
  { until, by, why, actor }: { until: number; by: 'rule' | 'hand'; why: string; actor: string },
): Promise<void> {
  const at = ctx.now();
  Object.assign(sender, {
    ...{ restedAt: new Date(at), restUntil: new Date(until), restedBy: by, restWhy: why, backAt: null },
    // One that rests again while it comes back is brought back to what it carried before.
    usualADay: sender.backAt ? sender.usualADay : await usualADay(scope, sender.id, at),
    rests: sender.rests + (by === 'rule' ? 1 : 0),
  });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'number.rested', sender.id, { number: sender.number, why, by });
}

async function bringBack(ctx: Context, scope: Scope, sender: SenderNumberRow, actor: string): Promise<void> {
  Object.assign(sender, {
    ...{ restedAt: null, restUntil: null, restedBy: null, restWhy: null, backAt: new Date(ctx.now()) },
  });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'number.brought-back', sender.id, { number: sender.number });
}

/** What it carried on a day of the last four weeks on which it carried anything. */
async function usualADay(scope: Scope, id: string, at: number): Promise<number> {
  const days = (await numberDays(scope, id, addDays(dayOf(at, 'UTC'), -28))).filter(({ n }) => n > 0);
  return days.length === 0 ? 0 : Math.round(days.reduce((sum, { n }) => sum + n, 0) / days.length);
}

/** How often the numbers of a workspace are looked at. */
const LOOK_EVERY = HOUR;

const RULE = 'number-rest';

/**
 * Numbers are looked after, workspace by workspace: one that is unwell rests where the workspace wants that and nobody falls silent by
 * it, one that has rested is brought back, and one that carries all it used to is as it was.
 */
export const NUMBERS_QUEUE: Queue = {
  name: 'numbers',
  rows: {
    named: `(select name from workspace w where w.id = x.row_id)`,
    waits: `exists (select 1 from workspace w where w.id = x.row_id and w.rests_unwell)`,
  },
  everyMs: MINUTE,
  due: async (reading, untroubled, at) => asDue(await workspacesWithNumbers(reading, untroubled('w.id'), at)),
  work: (ctx, { workspaceId }) => inWorkspace(ctx.orm, workspaceId!, (scope) => lookAfter(ctx, scope)),
  giveUp: async (_, scope) =>
    ok(await scope.em.nativeUpdate(Workspace, { id: scope.workspaceId }, { restsUnwell: false })),
};

async function lookAfter(ctx: Context, scope: Scope): Promise<boolean> {
  const at = ctx.now();
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  workspace.numbersAt = new Date(at + LOOK_EVERY);
  const senders = await scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { id: 'asc' } });
  for (const sender of senders) {
    if (sender.restUntil && sender.restUntil.getTime() <= at) await bringBack(ctx, scope, sender, RULE);
    else if (sender.backAt && isBack({ backAt: sender.backAt.getTime(), usual: sender.usualADay ?? 0 }, at))
      Object.assign(sender, { backAt: null, usualADay: null, rests: 0 });
  }
  await scope.em.flush();
  if (workspace.restsUnwell) await restUnwell(ctx, scope, senders);
  return true;
}

async function restUnwell(ctx: Context, scope: Scope, senders: readonly SenderNumberRow[]): Promise<void> {
  let standings = await rowsWithStanding(scope, ctx.now());
  for (const sender of senders) {
    const standing = standings.find(({ id }) => id === sender.id)?.standing;
    if (standing?.state !== 'unwell' || sender.restedAt) continue;
    if ((await silentBy(scope, sender.id, standings)) !== null) continue;
    const until = restUntil(ctx.now(), sender.rests);
    const why = unwellBecause(standing);
    await rest(ctx, scope, sender, { until, by: 'rule', why, actor: RULE });
    // One that rests is no help to the next.
    standings = await rowsWithStanding(scope, ctx.now());
    await writeToManagers(ctx, scope, {
      subject: `${displayNumber(sender.number)} rests: ${why}`,
      body: [
        `${displayNumber(sender.number)} is unwell (${why}), so nothing is begun from it until ${dayOf(until, 'UTC')}.`,
        'Whoever is texted meanwhile is texted from another number of their program, and told so first.',
        '',
        `${publicUrl()}/numbers/${sender.id}`,
      ].join('\n'),
    });
  }
}

const WORSE = {
  delivered: 'less of it is delivered',
  blocked: 'more of it is refused as spam',
  answered: 'fewer answer it',
  lost: 'it costs more people',
};

const unwellBecause = ({ lines }: Standing['standing']): string =>
  lines
    .filter(({ trend }) => trend === 'worse')
    .map(({ sign }) => WORSE[sign])
    .join(', ');
