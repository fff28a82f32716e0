import { dayOf, type Day } from '@/core/audience/days';
import type { Millis } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';

/** The day it is where the workspace is: in the evening, or far in the east, it is another than that of UTC. */
export async function todayIn(scope: Scope, now: Millis): Promise<{ day: Day; zone: string }> {
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  return { day: dayOf(now, zone), zone };
}
