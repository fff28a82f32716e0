import { Temporal } from 'temporal-polyfill';
import { addDays, dayOf, isDay, type Day } from '../audience/days';
import { DAY, MINUTE, type Millis } from '../shared/instant';
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
  /** Where the person lives. */
  zone: string;
  /** A date of theirs; null: it is empty. */
  dateOf(field: string): Day | null;
}

/** The moment a line is for. Null: there is none, since the date it hangs on is empty. */
export function momentOf(when: When, counting: Counting): Millis | null {
  const { arrived, began, before, zone } = counting;
  switch (when.at) {
    case 'once':
      return arrived;
    case 'after':
      return (when.from === 'before' ? before : began) + when.minutes * MINUTE;
    case 'day':
      return timeOn(addDays(dayOf(began, zone), when.day - 1), when.time, zone);
    case 'weekday':
      return nextWeekday(when.days, when.time, arrived, zone);
    case 'date': {
      const date = counting.dateOf(when.field);
      if (date === null) return null;
      if (!when.yearly) return timeOn(addDays(date, when.days), when.time, zone);
      const year = Number(dayOf(arrived, zone).slice(0, 4));
      const moments = [year - 1, year, year + 1, year + 2].map((one) =>
        timeOn(addDays(anniversary(date, one), when.days), when.time, zone),
      );
      return moments.find((moment) => moment >= arrived)!;
    }
    case 'until':
      return counting.acted ?? arrived + when.minutes * MINUTE;
  }
}

/**
 * A time of day in a zone. An hour that is missing when clocks go forward is the one after it; one that comes twice is
 * the first.
 */
export const timeOn = (day: Day, time: string, zone: string): Millis =>
  Temporal.PlainDate.from(day).toZonedDateTime({ timeZone: zone, plainTime: time }).epochMilliseconds;

/** The same day in another year; 29 February is the 28th in years without one. */
export function anniversary(date: Day, year: number): Day {
  const day = `${String(year).padStart(4, '0')}${date.slice(4)}`;
  return isDay(day) ? day : `${day.slice(0, 8)}28`;
}

function nextWeekday(days: readonly number[], time: string, from: Millis, zone: string): Millis {
  const today = dayOf(from, zone);
  for (let ahead = 0; ; ahead++) {
    const day = addDays(today, ahead);
    const at = timeOn(day, time, zone);
    if (at >= from && days.includes(Temporal.PlainDate.from(day).dayOfWeek)) return at;
  }
}

/** A year and a day: hours that open on no day in it open on none. */
const LOOKED_AHEAD = 367;

/** The first instant at or after `at` in which it may act; `at` where no hours are kept, or none ever come. */
export function openFrom(hours: ActingHours | null, at: Millis, zone: string): Millis {
  if (!hours) return at;
  const today = dayOf(at, zone);
  for (let ahead = 0; ahead < LOOKED_AHEAD; ahead++) {
    const day = addDays(today, ahead);
    if (!hours.days.includes(Temporal.PlainDate.from(day).dayOfWeek) || hours.holidays.includes(day))
      continue;
    const from = timeOn(day, hours.from, zone);
    const to = hours.to === '24:00' ? timeOn(addDays(day, 1), '00:00', zone) : timeOn(day, hours.to, zone);
    if (from < to && at < to) return Math.max(at, from);
  }
  return at;
}

/** Which day of the sequence an instant lies on, counted where the person lives; the first is 1. */
export const dayNumber = (began: Millis, at: Millis, zone: string): number =>
  Math.round((Date.parse(dayOf(at, zone)) - Date.parse(dayOf(began, zone))) / DAY) + 1;
