import { type SenderRow, senderRows, senderUse, type SenderUse } from '@/db/numbers/numbers';
import type { Scope } from '@/db/kit/scope';
import { type Millis, DAY } from '@/core/shared/instant';

export interface Standing extends SenderRow {
  rateNow: number | null;
  rateBefore: number | null;
  /** The last week is clearly worse than the number's own past. */
  dropped: boolean;
  /** Who would notice if it were given back. */
  use: SenderUse;
}

/** A number against its own past. Clear means five points, on at least fifty texts. */
export function withStanding(row: SenderRow): Omit<Standing, 'use'> {
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

export async function readNumbers(scope: Scope, now: Millis): Promise<Standing[]> {
  const standings: Standing[] = [];
  for (const row of await senderRows(scope, new Date(now - 7 * DAY), new Date(now - 84 * DAY)))
    standings.push({ ...withStanding(row), use: await senderUse(scope, row.id) });
  return standings;
}
