import { dayOf, type Day } from '@/core/audience/days';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

/** Which day it is where the workspace is. */
export async function todayIn(ctx: Context, scope: Scope): Promise<{ day: Day; zone: string }> {
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  return { day: dayOf(ctx.now(), zone), zone };
}
