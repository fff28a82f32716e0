import { HOUR, MINUTE, SECOND, type Millis } from '../shared/instant';

/** Pauses between tries of a row that could not be worked on. After the last it is set aside for a human. */
const PAUSES: readonly Millis[] = [
  ...[2 * SECOND, 10 * SECOND, MINUTE, 5 * MINUTE, 15 * MINUTE, HOUR, 3 * HOUR, 6 * HOUR],
];

/** How long to wait after so many tries; null: no more by itself. */
export const pauseAfter = (tries: number): Millis | null => PAUSES[tries - 1] ?? null;
