import { SECOND, type Millis } from '../shared/instant';

/**
 * Pacing of a sender number as a leaky bucket: `nextFreeAt` is when the parts already promised to the carrier
 * will have left at the number's throughput. It may run at most `BURST` ahead of now.
 */
export interface Pace {
  /** Parts per second the carrier allows this number. */
  partsPerSecond: number;
  nextFreeAt: Millis;
}

/** How far ahead a worker may promise: one round of work. */
export const BURST: Millis = SECOND;

/** Parts that may be handed over now. */
export function roomNow({ partsPerSecond, nextFreeAt }: Pace, at: Millis): number {
  const ahead = at + BURST - Math.max(nextFreeAt, at);
  return Math.max(0, Math.floor((ahead / SECOND) * partsPerSecond));
}

/** Where the bucket stands after `parts` more. */
export const afterParts = ({ partsPerSecond, nextFreeAt }: Pace, at: Millis, parts: number): Millis =>
  Math.max(nextFreeAt, at) + (parts / partsPerSecond) * SECOND;

/** After the carrier asked to slow down: nothing for a while, longer each time it asks again. */
export const afterThrottle = (at: Millis, timesInARow: number): Millis =>
  at + Math.min(SECOND * 2 ** timesInARow, 60 * SECOND);
