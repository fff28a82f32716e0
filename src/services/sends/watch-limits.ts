import { LIMIT_WORDS, passedLimit, SHIPPED_LIMITS, type Passed } from '@/core/broadcast/limits';
import { wilson } from '@/core/results/rates';
import { ok } from '@/core/shared/result';
import { Membership, Workspace } from '@/db/access/entities';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { goingBroadcasts, soFarOf } from '@/db/sends/broadcasts';
import { Broadcast } from '@/db/sends/entities';
import { writeToTeammates } from '@/services/email/teammate-mail';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { publicUrl } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { pauseBroadcast, stopBroadcast } from './move-broadcast';

const LOOK_MS = 5_000;

/** Broadcasts that go out: the rest of one is held when too many leave, refuse it as spam or cannot be reached. */
export const LIMITS_QUEUE: Queue = {
  name: 'broadcast-limits',
  rows: {
    named: `(select name from broadcast b where b.workspace_id = :workspace and b.id = x.row_id)`,
    waits: `exists (select 1 from broadcast b where b.id = x.row_id and b.state = 'sending')`,
  },
  everyMs: LOOK_MS,
  giveUp: (ctx, scope, id) => stopBroadcast(ctx, scope, id).then(() => ok(null)),
  due: async (reading, untroubled, at) => asDue(await goingBroadcasts(reading, untroubled('b.id'), at)),
  work: (ctx, { id, workspaceId }) => inWorkspace(ctx.orm, workspaceId!, (scope) => watch(ctx, scope, id)),
};

/** False: it may go on. */
async function watch(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id });
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const limits = workspace.sendLimits ?? SHIPPED_LIMITS;
  const passed = passedLimit(await soFarOf(scope, id), limits, broadcast.waived);
  if (!passed) return false;
  const paused = await pauseBroadcast(ctx, scope, id);
  if (!paused.ok) return false;
  await scope.em.nativeUpdate(Broadcast, { id }, { held: passed });
  await writeAudit(ctx, scope, 'by itself', 'broadcast.held', id, { ...passed });
  await tellWhoSends(ctx, scope, broadcast, passed);
  return true;
}

/** Who made it is told, and every owner. */
async function tellWhoSends(
  ctx: Context,
  scope: Scope,
  { id, name, createdBy }: Broadcast,
  passed: Passed,
): Promise<void> {
  const owners = await scope.em.find(Membership, { role: 'owner' });
  const told = new Set([...owners.map(({ accountId }) => accountId), ...(createdBy ? [createdBy] : [])]);
  const letter = {
    subject: `Held: ${name}`,
    body: [
      `“${name}” is held: ${heldWords(passed)}`,
      'What has not left waits until somebody lets it go on or stops it.',
      '',
      `${publicUrl()}/sends/${id}`,
    ].join('\n'),
  };
  await writeToTeammates(
    ctx,
    scope,
    [...told].map((accountId) => ({ to: { accountId }, ...letter })),
  );
}

const percent = (share: number): string => `${Number((share * 100).toFixed(1))} %`;

/** `9 of 120 people delivered opted out (4 % to 13.6 %); the limit is 3 %.` */
export function heldWords({ of, limit, count, people }: Passed): string {
  const { low, high } = wilson(count, people);
  const words = LIMIT_WORDS[of];
  return `${count} of ${people} ${words.of} ${words.rate} (${percent(low)} to ${percent(high)}); the limit is ${percent(limit)}.`;
}
