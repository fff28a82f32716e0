import ICAL from 'ical.js';
import { Temporal } from 'temporal-polyfill';
import { cleanText } from '@/core/shared/clean-text';
import type { Millis } from '@/core/shared/instant';
import { isZone } from '@/core/phone/place';

/** An event of a calendar file (iCalendar, RFC 5545). */
export interface CalendarEvent {
  /** The calendar's own id of it, by which it is known when the file comes again. */
  uid: string;
  name: string;
  place: string;
  url: string;
  startsAt: Millis;
  endsAt: Millis | null;
  allDay: boolean;
  cancelled: boolean;
}

/** One that repeats is looked through so far; what has no later time is over. */
const MOST_TIMES = 2_000;

/**
 * The events of a calendar, each at its next time after `now`, or its last. Times without a zone, and zones nobody knows,
 * are of `zone`. Null: it is no calendar.
 */
export function readEvents(
  text: string,
  { zone, now }: { zone: string; now: Millis },
): CalendarEvent[] | null {
  let calendar: ICAL.Component;
  try {
    const parsed = ICAL.parse(text.replace(/^\uFEFF/, '')) as unknown[];
    calendar = new ICAL.Component(Array.isArray(parsed[0]) ? (parsed[0] as never) : (parsed as never));
  } catch {
    return null;
  }
  if (calendar.name !== 'vcalendar') return null;
  const zones = new Map(
    calendar
      .getAllSubcomponents('vtimezone')
      .map((one) => [String(one.getFirstPropertyValue('tzid')), new ICAL.Timezone(one)]),
  );
  const instantOf = (time: ICAL.Time, tzid: string | null): Millis => instant(time, tzid, zones, zone);
  return calendar
    .getAllSubcomponents('vevent')
    .filter((one) => one.getFirstProperty('recurrence-id') === null)
    .flatMap((one) => eventOf(one, instantOf, now) ?? []);
}

function eventOf(
  component: ICAL.Component,
  instantOf: (time: ICAL.Time, tzid: string | null) => Millis,
  now: Millis,
): CalendarEvent | null {
  try {
    const start = component.getFirstProperty('dtstart');
    const name = wordsOf(component, 'summary');
    if (!start || name === '') return null;
    const tzid = (start.getParameter('tzid') as string | undefined) ?? null;
    const first = start.getFirstValue() as ICAL.Time;
    const event = new ICAL.Event(component);
    const length = event.duration ? event.duration.toSeconds() * 1_000 : 0;
    const next = event.isRecurring() ? nextTime(event, (time) => instantOf(time, tzid), now - length) : first;
    const startsAt = instantOf(next, tzid);
    return {
      ...{ uid: wordsOf(component, 'uid') || name, name, place: wordsOf(component, 'location') },
      url: wordsOf(component, 'url'),
      ...{ startsAt, endsAt: length > 0 ? startsAt + length : null, allDay: first.isDate },
      cancelled: wordsOf(component, 'status').toUpperCase() === 'CANCELLED',
    };
  } catch {
    // One that cannot be read stops no other.
    return null;
  }
}

function nextTime(event: ICAL.Event, instantOf: (time: ICAL.Time) => Millis, now: Millis): ICAL.Time {
  const times = event.iterator();
  let last = event.startDate;
  for (let i = 0, time = times.next(); time && i < MOST_TIMES; time = times.next(), i++) {
    last = time;
    if (instantOf(time) > now) break;
  }
  return last;
}

const wordsOf = (component: ICAL.Component, name: string): string =>
  cleanText(String(component.getFirstPropertyValue(name) ?? ''))
    .replace(/\s+/g, ' ')
    .trim();

function instant(
  time: ICAL.Time,
  tzid: string | null,
  zones: ReadonlyMap<string, ICAL.Timezone>,
  zone: string,
): Millis {
  if (time.zone === ICAL.Timezone.utcTimezone) return time.toJSDate().getTime();
  const known = tzid !== null && !isZone(tzid) ? zones.get(tzid) : undefined;
  const { year, month, day } = time;
  const [hour, minute, second] = time.isDate ? [0, 0, 0] : [time.hour, time.minute, time.second];
  if (known) {
    const shown = ICAL.Time.fromData({ year, month, day, hour, minute, second }, known);
    return shown.toUnixTime() * 1_000;
  }
  return Temporal.PlainDateTime.from({ year, month, day, hour, minute, second }).toZonedDateTime(
    tzid !== null && isZone(tzid) ? tzid : zone,
  ).epochMilliseconds;
}
