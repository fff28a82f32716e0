import { type SenderRow, senderRows, senderUse, type SenderUse } from '@/db/numbers/numbers';
import { carrierStates } from '@/db/delivery/carriers';
import type { Scope } from '@/db/kit/scope';
import { addDays, dayOf } from '@/core/audience/days';
import type { Millis } from '@/core/shared/instant';

export interface Standing extends SenderRow {
  rateNow: number | null;
  rateBefore: number | null;
  /** The last week is clearly worse than the number's own past. */
  dropped: boolean;
  /** Who would notice if it were given back. */
  use: SenderUse;
}

/** A number against its own past. Clear means five points, on at least fifty texts. */
function withStanding(row: SenderRow): Omit<Standing, 'use'> {
  const rate = (good: number, bad: number) => (good + bad === 0 ? null : good / (good + bad));
  const rateNow = rate(row.delivered_7, row.failed_7);
  const rateBefore = rate(row.delivered_before, row.failed_before);
  const enough = row.delivered_7 + row.failed_7 >= 50;
  return {
    ...row,
    rateNow,
    rateBefore,
    dropped: enough && rateNow !== null && rateBefore !== null && rateBefore - rateNow > 0.05,
  };
}

/** The last seven days, today among them, against the eleven weeks before; days are those of UTC, in which they are counted. */
export const rowsWithStanding = async (scope: Scope, now: Millis) => {
  const today = dayOf(now, 'UTC');
  return (await senderRows(scope, addDays(today, -6), addDays(today, -83))).map(withStanding);
};

export async function readNumbers(scope: Scope, now: Millis): Promise<Standing[]> {
  const standings: Standing[] = [];
  for (const row of await rowsWithStanding(scope, now))
    standings.push({ ...row, use: await senderUse(scope, row.id) });
  return standings;
}

export type { CarrierState } from '@/db/delivery/carriers';

/** The carriers of a workspace with how their links stand. */
export const readCarrierStates = carrierStates;
