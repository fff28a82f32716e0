import ICAL from 'ical.js';
import { addDays, type Day } from '../audience/days';
import { refuse, ok, type Result } from '../shared/result';

/** Days on which nothing is done, as a calendar file says them. */
export interface Holiday {
  day: Day;
  name: string;
}

/** As many as a document holds. */
const MOST = 400;
/** A calendar that repeats more often than daily names no holidays. */
const STEPS = 5_000;

/**
 * The days of a calendar file (RFC 5545) from a day on, over so many years: each event with every day it lasts, those
 * that repeat each year in each of them. Refused with a sentence when it is no calendar.
 */
export function readHolidays(
  file: string,
  { from, years }: { from: Day; years: number },
): Result<Holiday[], string> {
  const events = eventsOf(file);
  if (events === null)
    return refuse(
      'This file is no calendar. Take one that ends in .ics: calendars can give their days as iCalendar.',
    );
  const until = addDays(from, Math.round(365.25 * years));
  const found = new Map<Day, string>();
  for (const event of events)
    for (const day of daysOf(event, from, until)) if (!found.has(day)) found.set(day, event.summary ?? '');
  if (found.size === 0) return refuse(`There is no day in this calendar between ${from} and ${until}.`);
  const days = [...found].sort(([a], [b]) => (a < b ? -1 : 1)).map(([day, name]) => ({ day, name }));
  return days.length > MOST
    ? refuse(
        `This calendar has ${days.length} days from ${from} on; a sequence holds ${MOST}. Is it one of holidays?`,
      )
    : ok(days);
}

function eventsOf(file: string): ICAL.Event[] | null {
  try {
    const parsed: unknown = ICAL.parse(file.replace(/^\uFEFF/, ''));
    const roots = (Array.isArray(parsed) && typeof parsed[0] === 'string' ? [parsed] : parsed) as object[];
    const calendars = roots.map((root) => new ICAL.Component(root as never));
    if (calendars.length === 0 || calendars.some(({ name }) => name !== 'vcalendar')) return null;
    return calendars.flatMap((calendar) =>
      calendar.getAllSubcomponents('vevent').map((event) => new ICAL.Event(event)),
    );
  } catch {
    return null;
  }
}

function* daysOf(event: ICAL.Event, from: Day, until: Day): Generator<Day> {
  const { startDate } = event as { startDate: ICAL.Time | null };
  if (!startDate) return;
  const steps = event.iterator();
  for (let i = 0; i < STEPS; i++) {
    const next = steps.next() as ICAL.Time | undefined;
    if (!next) return;
    const first = dayIn(next);
    if (first > until) return;
    for (let day = first, n = 0; n < lasts(event); n++, day = addDays(day, 1))
      if (day >= from && day <= until) yield day;
  }
}

/** Days an event lasts. One with hours lasts the days it touches. */
function lasts(event: ICAL.Event): number {
  const { startDate, endDate } = event as { startDate: ICAL.Time; endDate: ICAL.Time | null };
  if (!endDate) return 1;
  const days = Math.round((Date.parse(dayIn(endDate)) - Date.parse(dayIn(startDate))) / 86_400_000);
  const midnight = endDate.isDate || (endDate.hour === 0 && endDate.minute === 0);
  return Math.min(MOST, Math.max(1, midnight ? days : days + 1));
}

const two = (n: number): string => String(n).padStart(2, '0');
const dayIn = ({ year, month, day }: ICAL.Time): Day =>
  `${String(year).padStart(4, '0')}-${two(month)}-${two(day)}`;
