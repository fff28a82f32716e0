import { DAY, HOUR, type Millis } from '../shared/instant';

export interface SourcePast {
  last: Millis;
  /** How many came within the time looked at. */
  came: number;
  /** The longest pause between two, in milliseconds; null: fewer than two came. */
  longest: Millis | null;
}

/** Of fewer nothing can be said. */
const ENOUGH = 8;

/**
 * Whether a source fell silent against its own past: it is quiet for longer than twice the longest pause it ever made, and than six hours.
 * A source that has always been slow is not silent when it is slow. Gives for how long; null: it is as usual.
 */
export function silentFor({ last, came, longest }: SourcePast, now: Millis): Millis | null {
  const quiet = now - last;
  if (came < ENOUGH || longest === null) return null;
  return quiet > Math.max(2 * longest, 6 * HOUR) ? quiet : null;
}

/** What is looked at of a source's past. */
export const PAST: Millis = 60 * DAY;
