import { ok } from '@/core/shared/result';
import { cancelOne, sendAgainNow } from '@/db/delivery/due-texts';
import { receiptsToTry, keptReceipt } from '@/db/delivery/kept-receipts';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Receipt } from '@/gateways/carrier';
import { asDue, type Queue, type WaysOut } from '@/services/kit/trouble';
import { storeAnswers } from './store-answers';

/** Receipts that could not be stored: the carrier knows that we have them, so they are kept with their problem. */
export const RECEIPT_QUEUE: Queue = {
  name: 'receipt',
  rows: { named: `null`, waits: `true` },
  everyMs: 1_000,
  due: async (reading, untroubled, at) => asDue(await receiptsToTry(reading, untroubled('t.row_id'), at)),
  work: async (ctx, { id }) => {
    const receipt = (await acrossWorkspaces(ctx.orm, (crossing) =>
      keptReceipt(crossing, id),
    )) as Receipt | null;
    if (receipt) await storeAnswers(ctx, [], [receipt]);
    return receipt !== null;
  },
  keepsTrouble: true,
  giveUp: () => Promise.resolve(ok(null)),
};

/** Texts are claimed together; only one that makes a claim fail is stuck by itself. */
export const STUCK_TEXTS: WaysOut = {
  name: 'text',
  rows: {
    named: `(select address from message t where t.workspace_id = :workspace and t.id = x.row_id)`,
    waits: `exists (select 1 from message t where t.id = x.row_id and t.not_before is not null)`,
  },
  giveUp: (ctx, scope, id) => cancelOne(scope, id, new Date(ctx.now())).then(ok),
  tryAgain: sendAgainNow,
};
