import { SHIPPED_LIMITS, type SendLimits } from '@/core/broadcast/limits';
import { ok, type Result } from '@/core/shared/result';
import type { Workspace } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { overtaken, type Refusal } from '@/services/kit/validation';
import { lockWorkspace } from './change-workspace';
import type { LimitsInput } from './inputs';

/** Changes the limits over which a broadcast is held by itself; what goes out now is measured by them at once. */
export async function changeLimits(
  ctx: Context,
  scope: Scope,
  input: LimitsInput,
  actor: string,
): Promise<Result<Workspace, Refusal>> {
  const workspace = await lockWorkspace(scope);
  if (input.stamp !== workspace.stamp) return overtaken();
  const from = workspace.sendLimits ?? SHIPPED_LIMITS;
  const share = (percent: number | null | undefined, before: number | null) =>
    percent === undefined ? before : percent === null ? null : percent / 100;
  const limits: SendLimits = {
    'opt-outs': share(input.opt_outs, from['opt-outs']),
    spam: share(input.spam, from.spam),
    failures: share(input.failures, from.failures),
  };
  workspace.sendLimits = limits;
  workspace.stamp += 1;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'limits.changed', workspace.id, { from, to: limits });
  await announce(scope, true);
  return ok(workspace);
}
