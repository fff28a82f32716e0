import type { Scope } from '@/db/kit/scope';
import { DAY, type Millis } from '@/core/shared/instant';
import { ApiKey, Workspace } from '@/db/access/entities';
import { messagesInWeek, peopleByRegion } from '@/db/access/reach';
import { Program } from '@/db/programs/entities';

export const readKeys = (scope: Scope): Promise<ApiKey[]> =>
  scope.em.find(ApiKey, {}, { orderBy: { createdAt: 'desc' } });

export const readWorkspace = (scope: Scope): Promise<Workspace> =>
  scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });

/** The settings, with what a change of them would reach. */
export async function readSettings(scope: Scope, now: Millis) {
  return {
    workspace: await readWorkspace(scope),
    reach: await messagesInWeek(scope, new Date(now - 7 * DAY)),
    programs: await scope.em.count(Program, { archivedAt: null }),
    regions: await peopleByRegion(scope),
  };
}
