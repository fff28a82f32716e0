import type { Duty } from '../inquiry/on-duty';
import { DAY, type Millis } from '../shared/instant';
import { dayNumberAt, instantOn } from '../shared/zone';

/** 1 January 1970 was a Thursday; 1 is Monday. */
const weekdayOf = (dayNumber: number): number => ((((dayNumber + 3) % 7) + 7) % 7) + 1;

/**
 * How many are at the phones, from an instant on for so many days. Asked for thousands of instants, so each change is found
 * once.
 * @param duties of those who take calls back
 */
export function peopleAtPhones(
  duties: readonly Duty[],
  zone: string,
  from: Millis,
  days: number,
): (at: Millis) => number {
  const changes: { at: Millis; by: number }[] = [];
  const known = new Map<string, Millis>();
  const instant = (day: number, time: string): Millis => {
    const key = `${day} ${time}`;
    if (!known.has(key))
      known.set(key, time === '24:00' ? instantOn(day + 1, '00:00', zone) : instantOn(day, time, zone));
    return known.get(key)!;
  };
  const today = dayNumberAt(zone, from);
  for (const { hours, awayUntil } of duties) {
    const there = (start: Millis, end: Millis) => {
      const begins = Math.max(start, awayUntil ?? start);
      if (begins < end) changes.push({ at: begins, by: 1 }, { at: end, by: -1 });
    };
    if (hours.length === 0) there(from, from + (days + 1) * DAY);
    for (let day = today - 1; day <= today + days; day += 1)
      for (const one of hours)
        if (one.day === weekdayOf(day)) there(instant(day, one.from), instant(day, one.to));
  }
  changes.sort((a, b) => a.at - b.at);
  const at = changes.map((change) => change.at);
  const there: number[] = [];
  changes.reduce((sum, { by }, i) => (there[i] = sum + by), 0);
  return (asked) => {
    let [low, high] = [0, at.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (at[middle]! <= asked) low = middle + 1;
      else high = middle;
    }
    return low === 0 ? 0 : there[low - 1]!;
  };
}
