import { DAY, type Millis } from '../shared/instant';

/** A share with its counts and its 95 % interval, so that a small sample looks small. */
export interface Rate {
  count: number;
  of: number;
  /** Null when there is nothing to divide by. */
  share: number | null;
  low: number;
  high: number;
}

/** How many standard errors a 95 % interval reaches to each side. */
export const Z = 1.959963984540054;

/** Wilson score interval at 95 %. Source: E. B. Wilson, JASA 22 (1927). */
export function wilson(count: number, of: number): Rate {
  if (of === 0) return { count, of, share: null, low: 0, high: 1 };
  const share = count / of;
  const z2 = Z * Z;
  const centre = (share + z2 / (2 * of)) / (1 + z2 / of);
  const half = (Z / (1 + z2 / of)) * Math.sqrt((share * (1 - share)) / of + z2 / (4 * of * of));
  return { count, of, share, low: Math.max(0, centre - half), high: Math.min(1, centre + half) };
}

/** Newcombe's interval for the difference of two shares; they differ when it leaves out zero. */
export function differ(a: Rate, b: Rate): boolean {
  if (a.share === null || b.share === null) return false;
  const delta = a.share - b.share;
  const low = delta - Math.hypot(a.share - a.low, b.high - b.share);
  const high = delta + Math.hypot(a.high - a.share, b.share - b.low);
  return low > 0 || high < 0;
}

/**
 * Whether a broadcast is old enough to be held against others: while it goes out, and on the day after, whoever has
 * not answered may yet. `finishedAt` null: it has not ended.
 */
export const mayBeJudged = (finishedAt: Millis | null, now: Millis): boolean =>
  finishedAt !== null && now - finishedAt >= DAY;
