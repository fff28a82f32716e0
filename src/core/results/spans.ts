import { Temporal } from 'temporal-polyfill';
import { addDays, type Day } from '../audience/days';

/** Days of the workspace's zone from one until another, which is not among them; one of 23 or of 25 hours is a day like any other. */
export interface Span {
  from: Day;
  until: Day;
}

export const GRAINS = ['day', 'week', 'month'] as const;
export type Grain = (typeof GRAINS)[number];

/** Spans that are offered; all end with yesterday, since a day that is not over cannot be held against one that is. */
export const SPANS = ['7', '28', '91', '364'] as const;
export type SpanName = (typeof SPANS)[number];

/** Longest span that can be asked for: five years. */
export const MOST_DAYS = 1830;

export const lastDays = (days: number, today: Day): Span => ({ from: addDays(today, -days), until: today });

export const lengthOf = ({ from, until }: Span): number =>
  Temporal.PlainDate.from(from).until(Temporal.PlainDate.from(until)).days;

/** As many days directly before. */
export const spanBefore = (span: Span): Span => ({
  from: addDays(span.from, -lengthOf(span)),
  until: span.from,
});

/** The grain that leaves between a handful and some thirty periods. */
export const grainOf = (span: Span): Grain => {
  const days = lengthOf(span);
  return days <= 35 ? 'day' : days <= 250 ? 'week' : 'month';
};

/** The first day of the period a day lies in; weeks begin on Monday (ISO 8601). */
export function periodOf(day: Day, grain: Grain): Day {
  const date = Temporal.PlainDate.from(day);
  if (grain === 'week') return date.subtract({ days: date.dayOfWeek - 1 }).toString();
  return grain === 'month' ? date.with({ day: 1 }).toString() : day;
}

/** The periods of a span in order; the first and the last may be cut by it. */
export function periodsOf(span: Span, grain: Grain): Span[] {
  const periods: Span[] = [];
  let from = span.from;
  while (from < span.until) {
    const next = Temporal.PlainDate.from(periodOf(from, grain))
      .add({ [`${grain}s`]: 1 })
      .toString();
    const until = next < span.until ? next : span.until;
    periods.push({ from, until });
    from = until;
  }
  return periods;
}
