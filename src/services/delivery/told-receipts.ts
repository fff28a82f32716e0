import type { FailureReason } from '@/core/delivery/failure';
import { recordTaken } from '@/db/delivery/answers';
import { acrossWorkspaces, byKey, type Crossing } from '@/db/kit/scope';
import type { Receipt } from '@/gateways/carrier';
import { storeAnswers, storeEach } from '@/services/delivery/store-answers';
import type { Context } from '@/services/kit/context';

export interface ToldReceipt {
  /** The id of a message of ours. */
  reference: string;
  /** `failed` did not arrive; whatever else is said of it, it did. */
  stat: string;
  failure: FailureReason | null;
}

/**
 * Stores what an account that takes each reference once tells of messages, as a carrier's receipts are stored.
 * @param sentOf those of its own messages among them: of those alone it is believed
 */
export async function storeToldReceipts(
  ctx: Context,
  carrierIdOf: (reference: string) => string,
  told: readonly ToldReceipt[],
  sentOf: (crossing: Crossing) => Promise<{ id: string; workspace_id: string; address: string }[]>,
): Promise<void> {
  const receipts = await acrossWorkspaces(ctx.orm, async (crossing) => {
    await byKey(crossing);
    const sent = new Map((await sentOf(crossing)).map((one) => [one.id, one]));
    // Whoever tells of a message has it, also where the answer to our handing it over was lost.
    await recordTaken(
      crossing,
      [...sent.values()].map(({ id, workspace_id: workspaceId }) => ({
        ...{ textId: id, workspaceId, index: 1, carrierId: carrierIdOf(id), told: null },
      })),
      new Date(ctx.now()),
    );
    return told
      .filter(({ reference }) => sent.has(reference))
      .map(({ reference, stat, failure }): Receipt => ({
        ...{ carrierId: carrierIdOf(reference), number: sent.get(reference)!.address },
        ...{ userReference: null, err: stat, stat: stat === 'failed' ? 'UNDELIV' : 'DELIVRD' },
        ...(failure ? { failure } : {}),
      }));
  });
  await storeAnswers(ctx, [], receipts).catch(async () => {
    const again = await storeEach(ctx, [], receipts);
    if (again.size > 0) throw new Error('Receipts that were told could not be stored');
  });
}
