import type { Millis } from '@/core/shared/instant';
import type { Person } from '@/db/people/entities';
import { isInCut } from '@/db/audience/audience';
import { broadcastsAhead } from '@/db/sends/broadcasts';
import type { Scope } from '@/db/kit/scope';
import { audienceContext, cutOf, planCondition } from './audience';

export interface Planned {
  id: string;
  name: string;
  at: Date;
}

/**
 * Scheduled broadcasts that mean this person as things stand now: of a program they are in, and of its part that is
 * meant. Who is meant is decided when a broadcast begins, so this is what to expect and no promise.
 */
export async function plannedFor(scope: Scope, person: Person, now: Millis): Promise<Planned[]> {
  if (person.stoppedAt || person.mergedInto || person.erasedAt) return [];
  const planned: Planned[] = [];
  for (const { id, name, send_at: at, audience } of await broadcastsAhead(scope, person.id)) {
    const plan = audience && planCondition(audience, await audienceContext(scope, now));
    if (plan && !(plan.ok && (await isInCut(scope, cutOf(plan.value, ''), person.id)))) continue;
    planned.push({ id, name, at });
  }
  return planned;
}
