import type { Result } from '@/core/shared/result';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import type { Pause } from '@/db/consent/entities';
import { Person } from '@/db/people/entities';
import { pausePerson } from '@/services/consent/pause';
import type { Context } from '@/services/kit/context';
import type { Refusal } from '@/services/kit/validation';
import { lastInbound, settleThread } from './thread';

/**
 * A pause that somebody wished for. A reply of theirs that is in doubt is what they said, and is decided with it: once
 * the pause is over texts go again.
 */
export async function pauseAsWished(
  ctx: Context,
  scope: Scope,
  personId: string,
  wanted: { until: string; why: string },
  actor: string,
): Promise<Result<Pause, Refusal>> {
  const person = await scope.em.findOne(Person, { id: personId });
  const doubt = person?.unclearSince ? await lastInbound(scope, personId) : null;
  const paused = await pausePerson(ctx, scope, personId, { ...wanted, said: doubt?.body ?? null }, actor);
  if (!paused.ok) return paused;
  if (doubt) {
    await scope.em.nativeUpdate(Person, { id: personId }, { unclearSince: null });
    await settleThread(ctx, scope, personId);
  } else await announce(scope, false);
  return paused;
}
