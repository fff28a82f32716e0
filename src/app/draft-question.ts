import { Temporal } from 'temporal-polyfill';

/** The instant a wall-clock time names in a zone; null when it cannot be read. Times in a spring gap move forward. */
export function instantOfLocal(local: string, zone: string): number | null {
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(local)) return null;
  try {
    return Temporal.PlainDateTime.from(local).toZonedDateTime(zone).epochMilliseconds;
  } catch {
    return null;
  }
}
