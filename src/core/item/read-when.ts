import { readDate, type DateOrder } from '../people/values';
import { instantAt } from '../shared/zone';
import { parseInstant, type Millis } from '../shared/instant';
import { ok, refuse, type Result } from '../shared/result';

export interface When {
  at: Millis;
  /** No hour was named. */
  allDay: boolean;
}

/**
 * A day with or without an hour, as files write it: `2026-12-04 19:30`, `12/4/2026 7:30 PM`, `2026-12-04T19:30:00-07:00`.
 * Without a zone of its own it is of `zone`; days and months in numbers stand in `order`.
 */
export function readWhen(text: string, zone: string, order: DateOrder): Result<When, 'no-time'> {
  const written = text.trim();
  const exact = /T.*(?:Z|[+-]\d{2}:?\d{2})$/i.test(written) ? parseInstant(written) : null;
  if (exact !== null) return ok({ at: exact, allDay: false });
  const [, date = '', hours, minutes = '00', half] =
    /^(\S+?)(?:[T ,]+(?:at )?(\d{1,2})(?:[:.h](\d{2}))?(?::\d{2}(?:\.\d+)?)?\s*([ap])?\.?m?\.?)?$/i.exec(
      written,
    ) ?? [];
  const day = readDate(date, order);
  if (!day.ok) return refuse('no-time');
  if (hours === undefined) return ok({ at: instantAt(day.value, '00:00', zone), allDay: true });
  const hour = half ? (Number(hours) % 12) + (half.toLowerCase() === 'p' ? 12 : 0) : Number(hours);
  if (hour > 23 || Number(minutes) > 59 || (half && Number(hours) > 12)) return refuse('no-time');
  return ok({ at: instantAt(day.value, `${String(hour).padStart(2, '0')}:${minutes}`, zone), allDay: false });
}
