import { Temporal } from 'temporal-polyfill';
import type { Millis } from '../shared/instant';

/** When the next month of something begins that began at some time: on the same day of the month, or its last one, in a zone. */
export function nextMonthOf(began: Millis, after: Millis, zone: string): Millis {
  const first = Temporal.Instant.fromEpochMilliseconds(began).toZonedDateTimeISO(zone);
  for (let months = 1; ; months++) {
    const at = first.add({ months }).epochMilliseconds;
    if (at > after) return at;
  }
}
