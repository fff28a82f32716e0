import { DAY, type Millis } from '../shared/instant';
import { dayNumberAt, instantOn, shownAt } from '../shared/zone';

/** From when to when somebody answers on a day of the week, 1 is Monday. Never over midnight. */
export interface DutyHours {
  day: number;
  from: string;
  to: string;
}

export interface Duty {
  /** Empty: at any hour. */
  hours: readonly DutyHours[];
  /** Away until then; null: they are not. */
  awayUntil: Millis | null;
}

/** The day of the week of a day as `dayNumberAt` counts: 1 January 1970 was a Thursday. */
const weekdayOf = (dayNumber: number): number => ((((dayNumber + 3) % 7) + 7) % 7) + 1;

export function isOnDuty({ hours, awayUntil }: Duty, zone: string, at: Millis): boolean {
  if (awayUntil !== null && at < awayUntil) return false;
  if (hours.length === 0) return true;
  const weekday = weekdayOf(dayNumberAt(zone, at));
  const time = shownAt(zone, at).slice(11, 16);
  return hours.some(({ day, from, to }) => day === weekday && time >= from && time < to);
}

/** When they are on again, `at` itself if they are now. Null: not within two weeks. */
export function nextOnDuty(duty: Duty, zone: string, at: Millis): Millis | null {
  if (isOnDuty(duty, zone, at)) return at;
  const from = Math.max(at, duty.awayUntil ?? at);
  if (isOnDuty(duty, zone, from)) return from;
  const today = dayNumberAt(zone, from);
  for (let i = 0; i <= 14; i += 1) {
    const starts = duty.hours
      .filter(({ day }) => day === weekdayOf(today + i))
      .map((one) => instantOn(today + i, one.from, zone))
      .filter((start) => start > from && start - from < 14 * DAY);
    if (starts.length > 0) return Math.min(...starts);
  }
  return null;
}

const TIME = /^([01]\d|2[0-3]):[0-5]\d$/;

export const isDutyHours = ({ day, from, to }: DutyHours): boolean =>
  Number.isInteger(day) &&
  day >= 1 &&
  day <= 7 &&
  TIME.test(from) &&
  (TIME.test(to) || to === '24:00') &&
  from < to;
