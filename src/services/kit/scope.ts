import { inWorkspace } from '@/db/kit/scope';
import { getContext } from './runtime';

export type { Scope } from '@/db/kit/scope';
import type { Scope } from '@/db/kit/scope';

/** Work in one workspace from a route or an action: one transaction. */
export async function withWorkspace<T>(workspaceId: string, work: (scope: Scope) => Promise<T>): Promise<T> {
  const { orm } = await getContext();
  return inWorkspace(orm, workspaceId, work);
}
