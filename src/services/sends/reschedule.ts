import { daysLater } from '@/core/broadcast/calendar';
import { firstLocal } from '@/core/broadcast/timing';
import { DAY, MINUTE, parseInstant, toIso } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { instantAt, shownAt } from '@/core/shared/zone';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { zonesOfMembers } from '@/db/sends/broadcasts';
import { Broadcast } from '@/db/sends/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { mustsOf } from './broadcasts';
import type { RescheduleInput } from './inputs';
import { lockBroadcast } from './move-broadcast';
import { paceEnds } from './read-timing';

const LATEST = 366 * DAY;

/** A scheduled broadcast goes at another time. What its wording says about days is checked for that time. */
export async function reschedule(
  ctx: Context,
  scope: Scope,
  id: string,
  input: RescheduleInput,
  actor: Actor,
): Promise<Result<Broadcast, Refusal>> {
  const wanted = parseInstant(input.at)!;
  if (wanted < ctx.now() - MINUTE) return invalid('at', 'at: lies in the past. Choose a later time.');
  if (wanted > ctx.now() + LATEST) return invalid('at', 'at: lies more than a year ahead.');
  const state = await lockBroadcast(scope, id);
  if (state === null) return notFound('broadcast');
  if (state !== 'scheduled')
    return conflict('state', 'state: only a scheduled broadcast can be moved to another time.');
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id }, { refresh: true });
  const local = broadcast.timing.local === null ? null : await shown(scope, wanted);
  const at = local === null ? wanted : firstLocal(local, await zonesOfMembers(scope, broadcast.programId));
  const ends = paceEnds(broadcast.timing, at);
  if (!ends.ok) return ends;
  const open = await mustsOf(scope, broadcast, at);
  if (open.length > 0) return { ok: false, reason: { code: 'invalid', problems: open } };
  const from = broadcast.sendAt;
  Object.assign(broadcast, {
    ...{ sendAt: new Date(at), timing: { ...broadcast.timing, local }, updatedAt: new Date(ctx.now()) },
  });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, 'broadcast.moved', id, { from, to: toIso(at), local });
  return ok(broadcast);
}

/** What the workspace's clock shows then. */
async function shown(scope: Scope, at: number): Promise<string> {
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  return shownAt(zone, at);
}

const MOST_DAYS = 366;

/** The same time of day so many days later, or earlier. */
export async function moveByDays(
  ctx: Context,
  scope: Scope,
  id: string,
  days: number,
  actor: Actor,
): Promise<Result<Broadcast, Refusal>> {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  if (!broadcast?.sendAt) return notFound('broadcast');
  if (!Number.isInteger(days) || Math.abs(days) > MOST_DAYS)
    return invalid('at', 'at: can be moved by whole days, at most a year.');
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const { local } = broadcast.timing;
  // Where the hour is meant where each lives, it is the wall clock that moves, not the first of them.
  const from =
    local === null ? broadcast.sendAt.getTime() : instantAt(local.slice(0, 10), local.slice(11), zone);
  return reschedule(ctx, scope, id, { at: toIso(daysLater(zone, from, days)) }, actor);
}
