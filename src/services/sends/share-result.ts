import { DAY } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { judge, type Measure } from '@/core/broadcast/wordings';
import type { BroadcastResult } from '@/core/results/broadcast-result';
import { Workspace } from '@/db/access/entities';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { broadcastCounts } from '@/db/results/results';
import { Broadcast, SharedResult } from '@/db/sends/entities';
import { Program } from '@/db/programs/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { hashLinkKey, newLinkKey } from '@/services/kit/link-key';
import { publicUrl } from '@/services/kit/settings';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';
import { compareWordings } from './choose-wording';
import type { ShareResultInput } from './inputs';
import { resultOf } from './views';

/** An address that shows the result to whoever has it, until it ends. It is given once: only the hash of its key is kept. */
export async function shareResult(
  ctx: Context,
  scope: Scope,
  id: string,
  { days }: ShareResultInput,
  actor: Actor,
): Promise<Result<{ id: string; url: string; ends_at: string }, Refusal>> {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  if (!broadcast) return notFound('broadcast');
  if (broadcast.begunAt === null)
    return conflict('state', 'state: there is no result yet. Share it once it has begun.');
  const key = newLinkKey();
  const at = ctx.now();
  const shared = scope.em.create(SharedResult, {
    ...{ id: ctx.id('shr'), workspaceId: scope.workspaceId, broadcastId: id, keyHash: hashLinkKey(key) },
    ...{ createdBy: actor.accountId, createdAt: new Date(at), endsAt: new Date(at + days * DAY) },
  });
  await scope.em.persistAndFlush(shared);
  await writeAudit(ctx, scope, actor.name, 'result.shared', id, { days });
  return ok({ id: shared.id, url: `${publicUrl()}/r/${key}`, ends_at: shared.endsAt.toISOString() });
}

/** Ends every address of a result. Gives how many there were. */
export async function endShares(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<{ ended: number }, Refusal>> {
  if (!(await scope.em.findOne(Broadcast, { id }))) return notFound('broadcast');
  const ended = await scope.em.nativeDelete(SharedResult, { broadcastId: id });
  if (ended > 0) await writeAudit(ctx, scope, actor.name, 'result.unshared', id, { ended });
  return ok({ ended });
}

/** Addresses of a result that still show it. */
export const sharesOf = (ctx: Pick<Context, 'now'>, scope: Scope, id: string): Promise<SharedResult[]> =>
  scope.em.find(
    SharedResult,
    { broadcastId: id, endsAt: { $gt: new Date(ctx.now()) } },
    { orderBy: { endsAt: 'asc' } },
  );

export interface PublicResult {
  business: string;
  program: string;
  name: string;
  zone: string;
  begunAt: Date | null;
  endsAt: Date;
  wordings: { body: string; people: number; delivered: number; acts: number }[];
  by: Measure | null;
  better: number | null;
  channel: Broadcast['channel'];
  result: BroadcastResult;
}

/** The result behind a key: counts and words, nothing of any person; null: there is none, or it has ended. */
export async function readShared(ctx: Context, key: string): Promise<PublicResult | null> {
  const [shared] = await acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.rows<{ workspace_id: string; broadcast_id: string; ends_at: Date }>(
      `select workspace_id, broadcast_id, ends_at from shared_result where key_hash = :hash and ends_at > :at`,
      { hash: hashLinkKey(key), at: new Date(ctx.now()) },
    ),
  );
  if (!shared) return null;
  return inWorkspace(ctx.orm, shared.workspace_id, (scope) => readOf(scope, shared));
}

async function readOf(
  scope: Scope,
  { broadcast_id: id, ends_at: endsAt }: { broadcast_id: string; ends_at: Date },
): Promise<PublicResult> {
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id });
  const program = await scope.em.findOneOrFail(Program, { id: broadcast.programId });
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const [counts] = await broadcastCounts(scope, [id]);
  const { comparison } = broadcast;
  const bodies = [broadcast.body, ...(comparison?.others ?? []).map(({ body }) => body)];
  const tallies = comparison ? (await compareWordings(scope, id, comparison)).tallies : [];
  const actsOf = { replies: 'replies', clicks: 'clicks', 'opt-outs': 'opt_outs' } as const;
  const wordings = bodies.map((body, i) => {
    const tally = tallies[i];
    return {
      body,
      ...{ people: tally?.people ?? 0, delivered: tally?.delivered ?? 0 },
      acts: tally && comparison ? tally[actsOf[comparison.by]] : 0,
    };
  });
  const compared = wordings.map(({ delivered: people, acts }) => ({ people, acts }));
  return {
    ...{ business: workspace.business, program: program.name, name: broadcast.name, zone: workspace.zone },
    ...{ begunAt: broadcast.begunAt, endsAt, wordings, channel: broadcast.channel },
    by: comparison?.by ?? null,
    better: comparison ? judge(compared, comparison.by).better : null,
    result: resultOf(counts!),
  };
}
