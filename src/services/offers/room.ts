import { DAY, SECOND } from '@/core/shared/instant';
import { OF_ERASED } from '@/db/kit/erasure';
import { acrossWorkspaces } from '@/db/kit/scope';
import { giveBackVouchers, moveVouchers } from '@/db/offers/merge';
import { countUses, settleReceived, tellEnds } from '@/db/offers/vouchers';
import type { Context } from '@/services/kit/context';
import type { Room } from '@/services/kit/room';
import { OFFERS_API } from './api';
import { UNDO } from './counter';

/** So long before it ends a voucher is about to. */
const SOON = 2 * DAY;

/** What time does to vouchers: they are received, end soon, have ended, and what was used counts. */
export const lookAtVouchers = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const now = ctx.now();
    const received = await settleReceived(crossing);
    const told = await tellEnds(crossing, { now: new Date(now), soon: new Date(now + SOON) });
    return received + told + (await countUses(crossing, new Date(now - UNDO)));
  });

export const OFFERS: Room = {
  name: 'offers',
  finds: [{ kind: 'offer', table: 'offer', label: 'name', at: '/programs/offers/' }],
  ticks: [{ everyMs: 2 * SECOND, run: lookAtVouchers }],
  api: OFFERS_API,
  merge: (scope, of) => moveVouchers(scope, of),
  unmerge: (scope, { goneId }, moved) =>
    giveBackVouchers(scope, goneId, (moved as string[] | undefined) ?? []),
  erasures: [`delete from voucher where ${OF_ERASED}`],
};
