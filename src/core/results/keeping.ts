import { addDays, type Day } from '../audience/days';
import { survival, type Stayed, type SurvivalStep } from './survival';
import { lengthOf, periodOf } from './spans';

/** How many came on a day. */
export interface CameSum {
  day: Day;
  n: number;
}

/** How many of those who came on a day went, or lapsed, after so many days; or wrote for the first time in their `nth` month. */
export interface StaySum {
  day: Day;
  nth: number;
  what: 'left' | 'lapsed' | 'wrote';
  n: number;
}

/** People who came in one month of the calendar. */
export interface Cohort {
  month: Day;
  people: number;
  steps: SurvivalStep[];
  /** For how many days at least somebody of them was watched: beyond it the curve says nothing. */
  watched: number;
  /** Of those who have been here for so many months of 30 days: how many wrote in the last of them. */
  wrote: { month: number; count: number; of: number }[];
}

export const MONTH_DAYS = 30;

/**
 * Cohorts by month of coming. Who came on a day and neither went nor lapsed was watched from that day until today. Somebody who
 * lapsed (their number is gone) did not go: they drop out of the reckoning that day.
 */
export function cohortsOf(came: readonly CameSum[], stays: readonly StaySum[], today: Day): Cohort[] {
  const months = new Map<Day, { came: CameSum[]; stays: StaySum[] }>();
  const of = (day: Day) => {
    const month = periodOf(day, 'month');
    if (!months.has(month)) months.set(month, { came: [], stays: [] });
    return months.get(month)!;
  };
  for (const sum of came) of(sum.day).came.push(sum);
  for (const sum of stays) of(sum.day).stays.push(sum);
  return [...months]
    .sort(([a], [b]) => a.localeCompare(b))
    .map(([month, sums]) => cohortOf(month, sums.came, sums.stays, today))
    .filter(({ people }) => people > 0);
}

function cohortOf(month: Day, came: readonly CameSum[], stays: readonly StaySum[], today: Day): Cohort {
  const ended = stays.filter(({ what }) => what !== 'wrote');
  const gone = new Map<Day, number>();
  for (const { day, n } of ended) gone.set(day, (gone.get(day) ?? 0) + n);
  const stayed: Stayed[] = [
    ...ended.map(({ nth, what, n }) => ({
      ...{ days: nth, went: what === 'left' ? n : 0, still: what === 'left' ? 0 : n },
    })),
    ...came.map(({ day, n }) => ({ days: daysSince(day, today), went: 0, still: n - (gone.get(day) ?? 0) })),
  ].filter(({ went, still }) => went > 0 || still > 0);
  return {
    month,
    people: came.reduce((sum, { n }) => sum + n, 0),
    steps: survival(stayed),
    watched: Math.max(0, ...stayed.map(({ days }) => days)),
    wrote: wroteOf(came, stays, today),
  };
}

const daysSince = (day: Day, today: Day): number => Math.max(0, lengthOf({ from: day, until: today }));

/** Month 0 is the first. Only those whose month is over count in it. */
function wroteOf(came: readonly CameSum[], stays: readonly StaySum[], today: Day): Cohort['wrote'] {
  const over = (day: Day, month: number) => addDays(day, (month + 1) * MONTH_DAYS) <= today;
  const rows: Cohort['wrote'] = [];
  for (let month = 0; ; month++) {
    const of = came.reduce((sum, { day, n }) => sum + (over(day, month) ? n : 0), 0);
    if (of === 0) return rows;
    const count = stays.reduce(
      (sum, { day, nth, what, n }) => sum + (what === 'wrote' && nth === month && over(day, month) ? n : 0),
      0,
    );
    rows.push({ month, count: Math.min(count, of), of });
  }
}
