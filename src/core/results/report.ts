import { Temporal } from 'temporal-polyfill';
import type { Millis } from '../shared/instant';

/** Pages of results that can be kept as a report. */
export const REPORT_PLACES = ['overview', 'works', 'keeping', 'speed'] as const;
export type ReportPlace = (typeof REPORT_PLACES)[number];

/** How often a report is sent: on weekdays of the calendar, each Monday, each first of the month. */
export const EVERY = ['day', 'week', 'month'] as const;
export type Every = (typeof EVERY)[number];

/**
 * When it is sent next, after an instant: at an hour of the workspace's zone. An hour that a change of the clock leaves out is the
 * one after it.
 */
export function nextReport(every: Every, hour: number, after: Millis, zone: string): Millis {
  let day = Temporal.Instant.fromEpochMilliseconds(after).toZonedDateTimeISO(zone).toPlainDate();
  if (every === 'week') day = day.subtract({ days: day.dayOfWeek - 1 });
  if (every === 'month') day = day.with({ day: 1 });
  for (;;) {
    const at = day.toZonedDateTime({ timeZone: zone, plainTime: { hour } }).epochMilliseconds;
    if (at > after) return at;
    day = day.add(every === 'day' ? { days: 1 } : every === 'week' ? { days: 7 } : { months: 1 });
  }
}
