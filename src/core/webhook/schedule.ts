import { HOUR, MINUTE, SECOND, type Millis } from '../shared/instant';

/** Pauses after each try that did not arrive: about three days in all. Source: Standard Webhooks, "Delivery". */
const PAUSES: readonly Millis[] = [
  ...[5 * SECOND, MINUTE, 5 * MINUTE, 30 * MINUTE, 2 * HOUR],
  ...[5 * HOUR, 10 * HOUR, 14 * HOUR, 20 * HOUR, 20 * HOUR],
];

/** How long to wait after so many tries; null: it is set aside. */
export const pauseAfterTry = (tries: number): Millis | null => PAUSES[tries - 1] ?? null;

/** How long an old secret goes on signing beside the new one. */
export const OLD_SECRET_LASTS: Millis = 24 * HOUR;

export type Answer =
  | { kind: 'answered'; status: number; body: string; ms: number }
  | { kind: 'unreachable'; why: string; ms: number };

/** What an answer means: arrived, try again, or never again (410: who listens has gone for good). */
export function outcomeOf(answer: Answer): 'arrived' | 'again' | 'gone' {
  if (answer.kind === 'unreachable') return 'again';
  if (answer.status >= 200 && answer.status < 300) return 'arrived';
  return answer.status === 410 ? 'gone' : 'again';
}
