import type { Millis } from '../shared/instant';

/** How often a program may write to one person; null: no number was promised. */
export type Frequency = { count: number; period: 'week' | 'month' } | null;

/** What a program promised from an instant on. */
export interface Promised {
  since: Millis;
  promise: Frequency;
  /** `all`: it holds for those who agreed before, too; `later`: they keep what they agreed to. */
  binds: 'all' | 'later';
}

/**
 * What holds for somebody who agreed at an instant: the last promise made by then, or made since for everybody.
 * @param history oldest first @param agreed null: they have not agreed yet, so what is promised now holds
 */
export function promiseFor(history: readonly Promised[], agreed: Millis | null): Frequency {
  let holds: Frequency = history[0]?.promise ?? null;
  for (const { since, promise, binds } of history)
    if (binds === 'all' || agreed === null || since <= agreed) holds = promise;
  return holds;
}

const DAYS = { week: 7, month: 30 } as const;

const perDay = (promise: Frequency): number =>
  promise === null ? Infinity : promise.count / DAYS[promise.period];

/** Whether a promise lets more be sent than the one before. */
export const allowsMore = (before: Frequency, after: Frequency): boolean => perDay(after) > perDay(before);

/** The least that was ever promised: what holds for those who agreed to the least. */
export const lowestOf = (history: readonly Frequency[], now: Frequency): Frequency =>
  history.reduce((lowest, promise) => (allowsMore(promise, lowest) ? lowest : promise), now);

export type Purpose = 'marketing' | 'recurring' | 'utility' | 'inquiry';

/** How much somebody agrees to: an inquiry wants its answer, a reminder what it is about, marketing anything. */
const REACH: Record<Purpose, number> = { inquiry: 0, utility: 1, recurring: 2, marketing: 2 };

/** Whether a purpose covers what people did not agree to under the one before. */
export const reachesFurther = (before: Purpose, after: Purpose): boolean => REACH[after] > REACH[before];
