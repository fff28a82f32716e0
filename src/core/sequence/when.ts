import { addDays, isDay, type Day } from '../audience/days';
import { DAY, MINUTE, toIso, type Millis } from '../shared/instant';
import { dayNumberAt, instantAt, instantOn } from '../shared/zone';
import type { ActingHours, When } from './document';

/** What the moment of a line is counted from. */
export interface Counting {
  /** When it became the next line. */
  arrived: Millis;
  began: Millis;
  /** When the line before happened: a message when it left. */
  before: Millis;
  /** When they last did what the line waits for, since the last message; null: not yet. */
  acted: Millis | null;
}

/** Whose moment it is. */
export interface Somebody {
  /** Where they live. */
  zone: string;
  /** A date of theirs; null: it is empty. */
  dateOf(field: string): Day | null;
}

/** The moment a line is for. Null: there is none, since the date it hangs on is empty. */
export function momentOf(
  when: When,
  { arrived, began, before, acted }: Counting,
  somebody: Somebody,
): Millis | null {
  const { zone } = somebody;
  switch (when.at) {
    case 'once':
      return arrived;
    case 'after':
      return (when.from === 'before' ? before : began) + when.minutes * MINUTE;
    case 'day':
      return instantOn(dayNumberAt(zone, began) + when.day - 1, when.time, zone);
    case 'weekday':
      return nextWeekday(when.days, when.time, arrived, zone);
    case 'date': {
      const date = somebody.dateOf(when.field);
      if (date === null) return null;
      if (!when.yearly) return instantAt(addDays(date, when.days), when.time, zone);
      const year = new Date(dayNumberAt(zone, arrived) * DAY).getUTCFullYear();
      const moments = [year - 1, year, year + 1, year + 2].map((one) =>
        instantAt(addDays(anniversary(date, one), when.days), when.time, zone),
      );
      return moments.find((moment) => moment >= arrived)!;
    }
    case 'until':
      return acted ?? arrived + when.minutes * MINUTE;
  }
}

/** The same day in another year; 29 February is the 28th in years without one. */
export function anniversary(date: Day, year: number): Day {
  const day = `${String(year).padStart(4, '0')}${date.slice(4)}`;
  return isDay(day) ? day : `${day.slice(0, 8)}28`;
}

function nextWeekday(days: readonly number[], time: string, from: Millis, zone: string): Millis {
  for (let day = dayNumberAt(zone, from); ; day++) {
    if (!days.includes(weekday(day))) continue;
    const at = instantOn(day, time, zone);
    if (at >= from) return at;
  }
}

/** ISO: 1 is Monday. The first day that is counted was a Thursday. */
const weekday = (dayNumber: number): number => ((((dayNumber + 3) % 7) + 7) % 7) + 1;

/** A year and a day: hours that open on no day in it open on none. */
const LOOKED_AHEAD = 367;

/** The first instant at or after `at` in which it may act; `at` where no hours are kept, or none ever come. */
export function openFrom(hours: ActingHours | null, at: Millis, zone: string): Millis {
  if (!hours) return at;
  const today = dayNumberAt(zone, at);
  for (let day = today; day < today + LOOKED_AHEAD; day++) {
    if (!hours.days.includes(weekday(day)) || isHoliday(hours, day)) continue;
    const from = instantOn(day, hours.from, zone);
    const to = instantOn(day, hours.to, zone);
    if (from < to && at < to) return Math.max(at, from);
  }
  return at;
}

const isHoliday = ({ holidays }: ActingHours, day: number): boolean =>
  holidays.length > 0 && holidays.includes(toIso(day * DAY).slice(0, 10));

/** Which day of the sequence an instant lies on, counted where the person lives; the first is 1. */
export const dayNumber = (began: Millis, at: Millis, zone: string): number =>
  dayNumberAt(zone, at) - dayNumberAt(zone, began) + 1;
