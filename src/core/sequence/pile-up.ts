import { DAY, type Millis } from '../shared/instant';

/** The most of these instants that lie within any seven days. */
export function mostInAWeek(instants: readonly Millis[]): number {
  const sorted = [...instants].sort((a, b) => a - b);
  let most = 0;
  let from = 0;
  for (const [i, at] of sorted.entries()) {
    while (at - sorted[from]! >= 7 * DAY) from++;
    most = Math.max(most, i - from + 1);
  }
  return most;
}
