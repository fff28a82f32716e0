/** An instant in milliseconds since the epoch. Core never asks for the current one: it is given. */
export type Millis = number;

export const SECOND = 1_000;
export const MINUTE = 60 * SECOND;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;

export const toIso = (at: Millis): string => new Date(at).toISOString();

const ISO = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}):(\d{2})(?::(\d{2})(?:\.\d{1,9})?)?(?:Z|[+-](\d{2}):?(\d{2}))$/;

/** The instant an ISO 8601 text with an offset or Z names, or null when it names none: the day must exist. */
export function parseInstant(text: string): Millis | null {
  const match = ISO.exec(text);
  if (!match) return null;
  const [year, month, day, hour, minute, second = 0, offsetHours = 0, offsetMinutes = 0] = match
    .slice(1)
    .map((part) => (part === undefined ? undefined : Number(part))) as [
    number,
    number,
    number,
    number,
    number,
  ];
  const date = new Date(Date.UTC(year, month - 1, day));
  if (date.getUTCMonth() !== month - 1 || date.getUTCDate() !== day) return null;
  if (hour > 23 || minute > 59 || second > 59 || offsetHours > 14 || offsetMinutes > 59) return null;
  const at = Date.parse(text);
  return Number.isNaN(at) ? null : at;
}
