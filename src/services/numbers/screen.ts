import { type SenderRow, senderRows, senderUse, type SenderUse } from '@/db/numbers/numbers';
import { carrierStates } from '@/db/delivery/carriers';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { addDays, dayOf } from '@/core/audience/days';
import { NOTHING, numberDays, numberWeeks, unexpectedTexts } from '@/db/numbers/standing';
import { standingOf, type NumberStanding } from '@/core/numbers/standing';
import { DAY, type Millis } from '@/core/shared/instant';

export interface Standing extends SenderRow {
  rateNow: number | null;
  rateBefore: number | null;
  /** The last week against the number's own past. */
  standing: NumberStanding;
  /** The last week is clearly worse than the number's own past. */
  dropped: boolean;
  /** Who would notice if it were given back. */
  use: SenderUse;
}

const WEEKS_BEFORE = 83;

/** The last seven days, today among them, against the eleven weeks before; days are those of UTC, in which they are counted. */
export async function rowsWithStanding(scope: Scope, now: Millis): Promise<Omit<Standing, 'use'>[]> {
  const today = dayOf(now, 'UTC');
  const [week, long] = [addDays(today, -6), addDays(today, -WEEKS_BEFORE)];
  const weeks = new Map((await numberWeeks(scope, week, long)).map((one) => [one.id, one]));
  return (await senderRows(scope, week, long)).map((row) => {
    const { now: counts, before } = weeks.get(row.id) ?? { now: NOTHING, before: NOTHING };
    const standing = standingOf(counts, before);
    const [delivered] = standing.lines;
    return {
      ...row,
      ...{ standing, rateNow: delivered!.now.share, rateBefore: delivered!.before.share },
      dropped: standing.state === 'unwell',
    };
  });
}

export async function readNumbers(scope: Scope, now: Millis): Promise<Standing[]> {
  const standings: Standing[] = [];
  for (const row of await rowsWithStanding(scope, now))
    standings.push({ ...row, use: await senderUse(scope, row.id) });
  return standings;
}

/** Whether a number that is unwell is rested by itself. */
export const readRestRule = async (scope: Scope): Promise<boolean> =>
  (await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId })).restsUnwell;

const DAYS_SHOWN = 56;

/** A number by itself: how it stands, what it carried, who would notice if it were gone; null: there is none. */
export async function readNumber(scope: Scope, id: string, now: Millis) {
  const row = (await rowsWithStanding(scope, now)).find((one) => one.id === id);
  if (!row) return null;
  const sender: Standing = { ...row, use: await senderUse(scope, id) };
  const today = dayOf(now, 'UTC');
  const since = addDays(today, -DAYS_SHOWN + 1);
  const known = new Map((await numberDays(scope, id, since)).map(({ day, n }) => [day, n]));
  const days = Array.from({ length: DAYS_SHOWN }, (_, i) => addDays(since, i));
  return {
    sender,
    days: days.map((day) => ({ day, n: known.get(day) ?? 0 })),
    today: known.get(today) ?? 0,
    unexpected: await unexpectedTexts(scope, id, new Date(now - 30 * DAY)),
  };
}

export type { CarrierState } from '@/db/delivery/carriers';

/** The carriers of a workspace with how their links stand. */
export const readCarrierStates = carrierStates;
