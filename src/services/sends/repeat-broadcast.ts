import { nextTimes, REPEAT_WORDS, repeatFrom, type Repeat } from '@/core/broadcast/repeat';
import { firstLocal } from '@/core/broadcast/timing';
import { toIso, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { shownAt } from '@/core/shared/zone';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { zonesOfMembers } from '@/db/sends/broadcasts';
import { Broadcast } from '@/db/sends/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { freshBroadcast } from './fresh-broadcast';
import { moveBroadcast } from './move-broadcast';

/** The rule of a draft begun with its first time; null: it is sent once. */
export async function beginRepeat(
  scope: Scope,
  { repeat }: Broadcast,
  at: Millis,
  local: string | null,
): Promise<Result<Repeat | null, Refusal>> {
  if (!repeat) return ok(null);
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const start = local ?? shownAt(zone, at);
  const begun = repeatFrom(repeat.rule, start, zone, at);
  return begun.ok ? begun : invalid('repeat', `repeat: ${REPEAT_WORDS[begun.reason]}`);
}

/**
 * Schedules the next one of a broadcast that repeats, in the transaction in which this one begins: so there is always one
 * ahead, and never two. Times that passed while nothing ran are left out.
 */
export async function scheduleNext(ctx: Context, scope: Scope, broadcast: Broadcast): Promise<void> {
  const { repeat } = broadcast;
  if (!repeat || broadcast.sendAt === null) return;
  const [next] = nextTimes(repeat, Math.max(broadcast.sendAt.getTime(), ctx.now()), 1);
  if (next === undefined) return;
  const local = broadcast.timing.local === null ? null : shownAt(repeat.zone, next);
  const at = local === null ? next : firstLocal(local, await zonesOfMembers(scope, broadcast.programId));
  const {
    programId,
    name,
    channel,
    subject,
    body,
    audience,
    links,
    comparison,
    media,
    instead,
    companion,
    createdBy,
    chatTemplateId,
    recordingId,
  } = broadcast;
  const following = scope.em.create(Broadcast, {
    ...freshBroadcast(ctx, scope, createdBy),
    ...{
      programId,
      name,
      channel,
      subject,
      body,
      audience,
      links,
      comparison,
      repeat,
      media,
      instead,
      companion,
      chatTemplateId,
      recordingId,
    },
    ...{ seriesId: broadcast.seriesId ?? broadcast.id, sendAt: new Date(at) },
    timing: { ...broadcast.timing, local },
  });
  await scope.em.persistAndFlush(following);
  await moveBroadcast(scope, following.id, 'schedule', new Date(ctx.now()));
  await writeAudit(ctx, scope, 'by itself', 'broadcast.scheduled', following.id, { at: toIso(at), local });
}

/** This one is the last. */
export async function endRepeat(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<Broadcast, Refusal>> {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  if (!broadcast) return notFound('broadcast');
  if (!broadcast.repeat || !['draft', 'scheduled'].includes(broadcast.state))
    return conflict(
      'state',
      'state: only one that waits to go out can be the last. The next one is the one to end.',
    );
  Object.assign(broadcast, { repeat: null, updatedAt: new Date(ctx.now()) });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, 'broadcast.repeat-ended', id);
  return ok(broadcast);
}
