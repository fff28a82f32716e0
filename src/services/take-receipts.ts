import { failureOf, partAfter } from '@/core/delivery/receipt';
import { announceAll, recordReceipts, type Settled, type ToldPart } from '@/db/queries/delivery';
import { LIVE_CHANNEL } from '@/db/queries/texts';
import { acrossWorkspaces, byKey } from '@/db/scope';
import type { Receipt } from '@/gateways/carrier';
import { applyConsequences } from './apply-consequences';
import type { Context } from './context';

/** Applies receipts, many at a time. Late, doubled and unordered ones change nothing that is settled better. */
export async function takeReceipts(ctx: Context, receipts: readonly Receipt[]): Promise<void> {
  const told = lastOfEach(receipts.flatMap(toldPart));
  if (told.length === 0) return;
  const settled = await acrossWorkspaces(ctx.orm, async (crossing) => {
    await byKey(crossing);
    const rows = await recordReceipts(crossing, told, new Date(ctx.now()));
    await announceAll(
      crossing,
      rows.map((row) => row.workspace_id),
      LIVE_CHANNEL,
    );
    return rows;
  });
  await applyConsequences(
    ctx,
    settled.filter((row: Settled) => row.state === 'failed'),
  );
}

function toldPart({ carrierId, stat, err, number, userReference }: Receipt): ToldPart[] {
  const state = partAfter(stat);
  if (state !== 'delivered' && state !== 'failed') return [];
  const failure = state === 'failed' ? failureOf(stat, err) : null;
  return [{ carrierId, state, stat, err, failure, number, reference: userReference }];
}

/** One row per part, as SQL wants it; delivered beats failed. */
function lastOfEach(parts: readonly ToldPart[]): ToldPart[] {
  const byId = new Map<string, ToldPart>();
  for (const part of parts)
    if (byId.get(part.carrierId)?.state !== 'delivered') byId.set(part.carrierId, part);
  return [...byId.values()];
}
