import { DAY, MINUTE, type Millis } from '../shared/instant';
import { dayNumberAt, instantOn, shownAt } from '../shared/zone';

/** Days of the calendar are counted as `dayNumberAt` does; 1 January 1970 was a Thursday. */
const weekdayOf = (dayNumber: number): number => (((dayNumber + 3) % 7) + 7) % 7;

/** The Monday of the week a day lies in. */
export const mondayOf = (dayNumber: number): number => dayNumber - weekdayOf(dayNumber);

/** A week of the calendar: its first instant, the first of the next, and its days. */
export interface CalendarWeek {
  from: Millis;
  to: Millis;
  /** Monday to Sunday. */
  days: { number: number; date: string; from: Millis }[];
}

/** Weeks of a zone's calendar from the one an instant lies in. */
export function weeksFrom(zone: string, at: Millis, weeks: number): CalendarWeek[] {
  const first = mondayOf(dayNumberAt(zone, at));
  return Array.from({ length: weeks }, (_, i) => {
    const monday = first + 7 * i;
    return {
      from: instantOn(monday, '00:00', zone),
      to: instantOn(monday + 7, '00:00', zone),
      days: Array.from({ length: 7 }, (_day, d) => ({
        number: monday + d,
        date: new Date((monday + d) * DAY).toISOString().slice(0, 10),
        from: instantOn(monday + d, '00:00', zone),
      })),
    };
  });
}

/** The same time of day so many days later, whatever clocks do in between. */
export function daysLater(zone: string, at: Millis, days: number): Millis {
  const [day = '', clock = ''] = shownAt(zone, at).split('T');
  // What is less than a minute goes along, so that there and back again is where it was.
  return instantOn(Date.parse(day) / DAY + days, clock, zone) + (at % MINUTE);
}

/** A program's promise, and how much of it a span takes. */
export interface PromiseUse {
  program: string;
  promised: number;
  period: 'week' | 'month';
  sent: number;
  planned: number;
}

/** Planned broadcasts beyond what was promised: they will be held for whoever got all before. */
export const overPromise = ({ promised, sent, planned }: PromiseUse): number =>
  Math.max(0, Math.min(planned, sent + planned - promised));
