import { type SenderRow, senderRows } from '@/db/numbers/numbers';
import type { Scope } from '@/db/kit/scope';
import { type Millis, DAY } from '@/core/shared/instant';

export interface Standing extends SenderRow {
  rateNow: number | null;
  rateBefore: number | null;
  /** The last week is clearly worse than the number's own past. */
  dropped: boolean;
}

/** A number against its own past. Clear means five points, on at least fifty texts. */
export function withStanding(row: SenderRow): Standing {
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
  return (await senderRows(scope, new Date(now - 7 * DAY), new Date(now - 84 * DAY))).map(withStanding);
}
