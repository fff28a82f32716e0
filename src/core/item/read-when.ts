import { readDate, type DateOrder } from '../people/values';
import { instantAt } from '../shared/zone';
import { parseInstant, type Millis } from '../shared/instant';
import { ok, refuse, type Result } from '../shared/result';

export interface When {
  at: Millis;
  /** No hour was named. */
  allDay: boolean;
}

/** What is longer is no time. */
const LONGEST = 80;

/** With a zone of its own: `2026-12-04T19:30:00-07:00`, `2026-12-04 19:30 UTC`, `2026-12-04 19:30 -0700`. */
function exactInstant(text: string): Millis | null {
  const [, day, time, hours, minutes] =
    /^(\d{4}-\d{2}-\d{2})[T ](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?) ?(?:Z|UTC|GMT|([+-]\d{2}):?(\d{2}))$/i.exec(
      text,
    ) ?? [];
  return day === undefined ? null : parseInstant(`${day}T${time!}${hours ? `${hours}:${minutes!}` : 'Z'}`);
}

/** `20261204T193000Z`, the basic form of ISO 8601 that calendars use, as the other one. */
const extendedForm = (text: string): string =>
  text.replace(
    /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})(\d{2})?)?(?=Z?$)/,
    (_, year: string, month: string, day: string, hour?: string, minute?: string, second = '00') =>
      `${year}-${month}-${day}${hour === undefined ? '' : `T${hour}:${minute}:${second}`}`,
  );

/**
 * A day with or without an hour, as files write it: `2026-12-04 19:30`, `12/4/2026 7:30 PM`, `Fri, Dec 4, 2026 at 7:30 PM`, `2026-12-04T19:30:00-07:00`.
 * Without a zone of its own it is of `zone`; days and months in numbers stand in `order`.
 */
export function readWhen(text: string, zone: string, order: DateOrder): Result<When, 'no-time'> {
  const written = extendedForm(text.trim());
  if (written.length > LONGEST) return refuse('no-time');
  const exact = exactInstant(written);
  if (exact !== null) return ok({ at: exact, allDay: false });
  const [, date = '', hours, minutes = '00', half] =
    /^(.+?)(?:[T ,]+(?:at )?(\d{1,2})(?:[:.h](\d{2}))?(?::\d{2}(?:\.\d+)?)?\s*([ap])?\.?m?\.?)?$/i.exec(
      written,
    ) ?? [];
  const day = readDate(date, order);
  if (!day.ok) return refuse('no-time');
  if (hours === undefined) return ok({ at: instantAt(day.value, '00:00', zone), allDay: true });
  const hour = half ? (Number(hours) % 12) + (half.toLowerCase() === 'p' ? 12 : 0) : Number(hours);
  if (hour > 23 || Number(minutes) > 59 || (half && Number(hours) > 12)) return refuse('no-time');
  return ok({ at: instantAt(day.value, `${String(hour).padStart(2, '0')}:${minutes}`, zone), allDay: false });
}
