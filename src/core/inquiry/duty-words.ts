import { ok, refuse, type Result } from '../shared/result';
import { isDutyHours, type DutyHours } from './on-duty';

export const WEEKDAYS = [
  'Monday',
  'Tuesday',
  'Wednesday',
  'Thursday',
  'Friday',
  'Saturday',
  'Sunday',
] as const;

/** The hours of one day as somebody types them: `09:00–12:00, 13:00–17:00`; empty: none. */
export const dutyWords = (hours: readonly DutyHours[], day: number): string =>
  hours
    .filter((one) => one.day === day)
    .map(({ from, to }) => `${from}–${to}`)
    .join(', ');

/** Reads such words. `9-12` is read as `09:00–12:00`. */
export function readDutyWords(text: string, day: number): Result<DutyHours[], string> {
  const hours: DutyHours[] = [];
  for (const part of text.split(',').map((one) => one.trim())) {
    if (part === '') continue;
    const found = /^(\d{1,2})(?::(\d{2}))?\s*(?:-|–|—|to)\s*(\d{1,2})(?::(\d{2}))?$/.exec(part);
    const one = found && {
      day,
      from: `${found[1]!.padStart(2, '0')}:${found[2] ?? '00'}`,
      to: `${found[3]!.padStart(2, '0')}:${found[4] ?? '00'}`,
    };
    if (!one || !isDutyHours(one)) return refuse(`“${part}” is no span of hours, such as 09:00–17:00.`);
    hours.push(one);
  }
  return ok(hours);
}
