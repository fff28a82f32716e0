import { settleSilence } from '@/core/delivery/settle';
import { VALIDITY } from '@/core/delivery/failure';
import { linkUpSince } from '@/db/delivery/carriers';
import { loseOrphans, settleSilent, silentTexts } from '@/db/delivery/silence';
import { DUE_CHANNEL } from '@/db/delivery/texts';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';

/** Texts that a dead worker was sending become unconfirmed: their receipts may still settle them. */
export const loseTextsOfDeadWorkers = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) => loseOrphans(crossing, new Date(ctx.now())));

/** Settles long silence: proved not taken (sent again), or left unconfirmed for a human. Gives how many it settled. */
export async function settleLongSilence(ctx: Context): Promise<number> {
  const at = ctx.now();
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const silent = await silentTexts(crossing, new Date(at - VALIDITY), 200);
    if (silent.length === 0) return 0;
    const upSince = new Map<string, Date | null>();
    for (const carrier of new Set(silent.map((text) => text.carrier_id)))
      upSince.set(carrier, await linkUpSince(crossing, carrier));
    const settled = silent.flatMap((text) => {
      const evidence = {
        receiptsCome: text.come,
        receiptsMissing: text.missing,
        partsKnown: text.parts,
        linkUpSince: upSince.get(text.carrier_id)?.getTime() ?? null,
      };
      const settlement = settleSilence({ at, since: text.submitted_at.getTime(), ...evidence });
      return settlement === 'wait' ? [] : [{ id: text.id, requeue: settlement === 'not-taken' }];
    });
    await settleSilent(
      crossing,
      settled.map(({ id }) => id),
      settled.map(({ requeue }) => requeue),
      new Date(at),
    );
    await crossing.rows(`select pg_notify('${DUE_CHANNEL}', '')`);
    return settled.length;
  });
}
