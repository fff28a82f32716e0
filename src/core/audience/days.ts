import { Temporal } from 'temporal-polyfill';
import { DAY, type Millis } from '../shared/instant';
import { offsetAt } from '../shared/zone';

/** A calendar day, `2026-11-24`. */
export type Day = string;

export const dayOf = (at: Millis, zone: string): Day => dayAt(at + offsetAt(zone, at));

const dayAt = (utc: Millis): Day => new Date(utc).toISOString().split('T')[0]!;

/** The first instant of a day in a zone: not always midnight where clocks change at midnight. */
export const startOf = (day: Day, zone: string): Millis =>
  Temporal.PlainDate.from(day).toZonedDateTime(zone).startOfDay().epochMilliseconds;

export const addDays = (day: Day, days: number): Day => dayAt(Date.parse(day) + days * DAY);

/** True for a day that exists: 31 February does not. */
export function isDay(text: string): boolean {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false;
  const [year, month, day] = text.split('-').map(Number) as [number, number, number];
  return (
    month >= 1 &&
    month <= 12 &&
    day >= 1 &&
    day <= new Date(Date.UTC(2000 + (year % 400), month, 0)).getUTCDate()
  );
}

/**
 * Days of the year, `11-24`, from today over the next `days`. 29 February counts as 28 February in years
 * without one, so that nobody born on it is left out.
 */
export function monthDays(today: Day, days: number): string[] {
  const found = new Set<string>();
  for (let i = 0; i <= Math.min(days, 366); i++) {
    const day = addDays(today, i);
    found.add(day.slice(5));
    if (day.slice(5) === '02-28' && !isDay(`${day.slice(0, 4)}-02-29`)) found.add('02-29');
  }
  return [...found];
}
