import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import type { Refusal } from '@/services/kit/validation';
import type { PhonesInput } from './inputs';

/** How long a call takes, and what share of calls may find nobody free. */
export async function changePhones(
  ctx: Context,
  scope: Scope,
  { call_seconds: callSeconds, may_be_busy: mayBeBusy }: PhonesInput,
  { name: actor }: Actor,
): Promise<Result<Workspace, Refusal>> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  Object.assign(workspace, { callSeconds, mayBeBusy });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'workspace.phones', workspace.id, { callSeconds, mayBeBusy });
  return ok(workspace);
}

export const phonesView = ({ callSeconds, mayBeBusy }: Workspace) => ({
  ...{ call_seconds: callSeconds, may_be_busy: mayBeBusy },
});
