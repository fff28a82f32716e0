import { median } from 'd3-array';
import { addDays, dayOf, startOf, type Day } from '../audience/days';
import { DAY, type Millis } from '../shared/instant';
import { instantAt, shownAt } from '../shared/zone';

/** So many weeks back the same day of the week is looked at, and so many there must be. */
const WEEKS = 8;
const FEWEST = 4;

export interface PartOfDay {
  day: Day;
  from: Millis;
  until: Millis;
}

/** The same day of the week in the weeks before, each from its beginning until the clock showed what it shows now. */
export function partsBefore(now: Millis, zone: string, since: Millis): PartOfDay[] {
  const today = dayOf(now, zone);
  const clock = shownAt(zone, now).slice(11);
  return Array.from({ length: WEEKS }, (_, i) => addDays(today, -7 * (i + 1)))
    .map((day) => ({ day, from: startOf(day, zone), until: instantAt(day, clock, zone) }))
    .filter(({ from }) => from >= since - DAY);
}

/** What is usual of some days' counts; null: there are too few days to say. */
export const usualOf = (counts: readonly number[]): number | null =>
  counts.length < FEWEST ? null : Math.round(median(counts)!);
