import { teamRows } from '@/db/access/team';
import type { Scope } from '@/db/kit/scope';
import { ApiKey, Workspace } from '@/db/access/entities';

export const readTeam = teamRows;

export const readKeys = (scope: Scope): Promise<ApiKey[]> =>
  scope.em.find(ApiKey, {}, { orderBy: { createdAt: 'desc' } });

export const readWorkspace = (scope: Scope): Promise<Workspace> =>
  scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
