import { DAY, HOUR, type Millis } from '../shared/instant';

/** How long whoever wrote may be answered in words of one’s own; outside of it only a template goes. */
export const WINDOW: Millis = 24 * HOUR;

/** Until when the window is open; null: it is closed. */
export const openUntil = (wroteAt: Millis | null, at: Millis): Millis | null =>
  wroteAt !== null && at < wroteAt + WINDOW ? wroteAt + WINDOW : null;

/** A conversation we began lasts a day: what else goes to them in it begins none. */
export const CONVERSATION: Millis = DAY;

/** Whether a message to somebody begins a conversation, of which a network allows so many a day. */
export const begins = (
  { wroteAt, begunAt }: { wroteAt: Millis | null; begunAt: Millis | null },
  at: Millis,
): boolean => openUntil(wroteAt, at) === null && (begunAt === null || at >= begunAt + CONVERSATION);

/**
 * When the next may be begun with, where `left` may now and `limit` each day: those who wait go a day’s worth at a time.
 * `ahead`: how many stand before this one. Null: now.
 */
export function mayBeginAt(
  { limit, left, ahead }: { limit: number | null; left: number; ahead: number },
  at: Millis,
): Millis | null {
  if (limit === null || ahead < left) return null;
  // An account that may begin with nobody waits for the network to raise it.
  return limit === 0 ? Infinity : at + Math.ceil((ahead - left + 1) / limit) * DAY;
}
