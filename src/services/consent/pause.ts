import { LONGEST_DAYS } from '@/core/reply/pause';
import { cutText, type CleanText } from '@/core/shared/clean-text';
import { DAY } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { instantAt } from '@/core/shared/zone';
import { Workspace } from '@/db/access/entities';
import { Pause } from '@/db/consent/entities';
import type { Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import { lockPerson } from '@/db/people/locks';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';

export interface PauseWanted {
  /** The first day on which texts may go again, as `2027-01-15`. */
  until: string;
  why: string;
  /** What they wrote, where it is a reply that wishes for it. */
  said: CleanText | null;
}

/**
 * Nothing we begin goes to somebody until a day, as they wished. It ends by itself, by a keyword or START of theirs, or
 * by hand; one that stood before is ended by the new one.
 */
export async function pausePerson(
  ctx: Context,
  scope: Scope,
  personId: string,
  wanted: PauseWanted,
  actor: string,
): Promise<Result<Pause, Refusal>> {
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const now = ctx.now();
  const until = new Date(instantAt(wanted.until, '00:00', zone));
  if (Number.isNaN(until.getTime()) || until.getTime() <= now)
    return invalid('until', 'until: choose a day after today; texts may go again from then on.');
  if (until.getTime() > now + (LONGEST_DAYS + 1) * DAY)
    return invalid('until', 'until: a pause ends within a year. Who wants none for longer opts out.');
  await endOpenPause(ctx, scope, personId, actor);
  const pause: Pause = {
    ...{ id: ctx.id('pau'), workspaceId: scope.workspaceId, personId, since: new Date(now), until },
    ...{ said: wanted.said && cutText(wanted.said, 500), why: wanted.why.trim(), recordedBy: actor },
    ...{ endedAt: null, endedBy: null },
  };
  await scope.em.insert(Pause, pause);
  await scope.em.nativeUpdate(Person, { id: personId }, { pausedUntil: until });
  await writeAudit(ctx, scope, actor, 'person.paused', personId, { until: wanted.until });
  return ok(pause);
}

/** Texts may go again before the day came. */
export async function endPause(
  ctx: Context,
  scope: Scope,
  personId: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  await endOpenPause(ctx, scope, personId, actor);
  await writeAudit(ctx, scope, actor, 'person.pause-ended', personId);
  return ok(null);
}

/** The same, in the transaction of what ends it. */
export async function endOpenPause(
  ctx: Context,
  scope: Scope,
  personId: string,
  actor: string,
): Promise<void> {
  const ended = { endedAt: new Date(ctx.now()), endedBy: actor };
  await scope.em.nativeUpdate(Pause, { personId, endedAt: null }, ended);
  await scope.em.nativeUpdate(Person, { id: personId }, { pausedUntil: null });
}
