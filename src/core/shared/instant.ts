/** An instant in milliseconds since the epoch. Core never asks for the current one: it is given. */
export type Millis = number;

export const SECOND = 1_000;
export const MINUTE = 60 * SECOND;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;

export const toIso = (at: Millis): string => new Date(at).toISOString();

/** The instant an ISO 8601 text with an offset or Z names, or null when it names none. */
export function parseInstant(text: string): Millis | null {
  if (!/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d{1,9})?)?(Z|[+-]\d{2}:?\d{2})$/.test(text)) return null;
  const at = Date.parse(text);
  return Number.isNaN(at) ? null : at;
}
