import { Temporal } from 'temporal-polyfill';
import { DAY, MINUTE, toIso, type Millis } from './instant';

/** A stretch of time in which the clocks of a zone keep one distance from UTC: from `from`, up to `to`. */
interface Stretch {
  from: Millis;
  to: Millis;
  offset: Millis;
}

/** The stretches each zone was asked for: Temporal costs some 50 us a question, and plans ask millions of times. */
const known = new Map<string, Stretch[]>();

/** How far the clocks of a zone are ahead of UTC at an instant. An unknown zone throws a RangeError. */
export const offsetAt = (zone: string, at: Millis): Millis => stretchAt(zone, at).offset;

function stretchAt(zone: string, at: Millis): Stretch {
  let stretches = known.get(zone);
  if (!stretches) known.set(zone, (stretches = []));
  for (const stretch of stretches) if (at >= stretch.from && at < stretch.to) return stretch;
  const local = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone);
  // A change at this very instant is the one that led here.
  const before = local.add({ milliseconds: 1 }).getTimeZoneTransition('previous');
  const after = local.getTimeZoneTransition('next');
  const stretch = {
    from: before?.epochMilliseconds ?? -Infinity,
    to: after?.epochMilliseconds ?? Infinity,
    offset: local.offsetNanoseconds / 1e6,
  };
  stretches.push(stretch);
  return stretch;
}

/** The day that a zone's calendar shows, counted from 1 January 1970, which is 0. */
export const dayNumberAt = (zone: string, at: Millis): number => Math.floor((at + offsetAt(zone, at)) / DAY);

/**
 * The instant at which the clocks of a zone show a time of day. An hour that is missing when clocks go forward is the
 * one after it; one that comes twice is the first.
 * @param dayNumber as `dayNumberAt` counts @param time `09:30`
 */
export function instantOn(dayNumber: number, time: string, zone: string): Millis {
  const shown = dayNumber * DAY + (Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5))) * MINUTE;
  const stretch = stretchAt(zone, shown);
  const at = shown - stretch.offset;
  // Far from a change of clocks there is one such instant, and it lies in this stretch.
  if (at >= stretch.from + DAY && at < stretch.to - DAY) return at;
  return Temporal.Instant.fromEpochMilliseconds(shown)
    .toZonedDateTimeISO('UTC')
    .toPlainDateTime()
    .toZonedDateTime(zone).epochMilliseconds;
}

/** The same for a day as it is written: `2026-11-24`. */
export const instantAt = (day: string, time: string, zone: string): Millis =>
  instantOn(Date.parse(day) / DAY, time, zone);

/** What the clock and the calendar of a zone show at an instant: `2026-12-01T18:00`. */
export const shownAt = (zone: string, at: Millis): string => toIso(at + offsetAt(zone, at)).slice(0, 16);

/** What a field of a form holds, `2026-12-01T18:00`, as an ISO instant; null: it is empty. */
export function instantOfLocal(local: string, zone: string): string | null {
  const [day = '', time = ''] = local.split('T');
  return day === '' ? null : new Date(instantAt(day, time, zone)).toISOString();
}
