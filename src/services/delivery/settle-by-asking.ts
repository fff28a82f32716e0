import { recordTaken, settleTexts } from '@/db/delivery/answers';
import { settleSilent } from '@/db/delivery/silence';
import type { Unconfirmed } from '@/db/delivery/unconfirmed';
import { acrossWorkspaces, byKey } from '@/db/kit/scope';
import { log } from '@/log/log';
import type { Context } from '@/services/kit/context';

interface Asking {
  /** Whether the outside has it; null: it cannot be asked now. */
  has(row: Unconfirmed): Promise<boolean | null>;
  /** How its id is known to delivery. */
  carrierId(id: string): string;
}

/**
 * Settles messages by asking whether they were taken, where each reference is taken once and remembered: what is there was
 * taken, what is not goes back into the queue. An account that cannot be asked holds its own only, and so does a message
 * that cannot be settled. Gives how many were.
 */
export async function settleByAsking(
  ctx: Context,
  rows: readonly Unconfirmed[],
  { has, carrierId }: Asking,
): Promise<number> {
  const silent = new Set<string>();
  let settled = 0;
  for (const row of rows) {
    if (silent.has(row.account_id)) continue;
    try {
      const taken = await has(row);
      if (taken === null) {
        silent.add(row.account_id);
        continue;
      }
      await settleOne(ctx, row, taken ? carrierId(row.id) : null);
      settled += 1;
    } catch (error) {
      log.error(
        { err: error, message: row.id },
        'It is not known whether a message was taken; it is asked again.',
      );
    }
  }
  return settled;
}

const settleOne = (
  ctx: Context,
  { id, workspace_id: workspaceId }: Unconfirmed,
  carrierId: string | null,
): Promise<unknown> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    await byKey(crossing);
    const at = new Date(ctx.now());
    if (carrierId === null) return settleSilent(crossing, [id], [true], at);
    await recordTaken(crossing, [{ textId: id, workspaceId, index: 1, carrierId, told: null }], at);
    return settleTexts(crossing, { accepted: [id], touched: [], at });
  });
