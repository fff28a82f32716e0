/** Somebody who waits for work that takes its time. */
export interface Watch<Step> {
  /** Hears what is known so far. */
  tell(step: Step): void;
  /** So long at least lies between two steps, and before the first; left out: as long as looks lively. */
  everyMs?: number;
  /** Aborted once nobody waits any more: the work is given up by throwing its reason. */
  signal: AbortSignal;
}

export { whileWaitedFor } from '@/db/kit/give-up';
