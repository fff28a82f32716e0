import { wilson, type Rate } from '../results/rates';

/** What may go wrong with a broadcast while it goes out. */
export type LimitOf = 'opt-outs' | 'spam' | 'failures';

/** Shares from which on the rest is held; null: never. */
export type SendLimits = Record<LimitOf, number | null>;

/**
 * As it ships. Of permission-based texts a few in a thousand leave; several in a hundred say that these people did not
 * expect this. Carriers look at refusals as spam themselves, and earlier.
 */
export const SHIPPED_LIMITS: SendLimits = { 'opt-outs': 0.03, spam: 0.02, failures: 0.15 };

export const LIMIT_WORDS: Record<LimitOf, { rate: string; of: string }> = {
  'opt-outs': { rate: 'opted out', of: 'delivered' },
  spam: { rate: 'were refused as spam', of: 'settled' },
  failures: { rate: 'failed', of: 'settled' },
};

/** What became of the people of a broadcast so far. */
export interface SoFar {
  delivered: number;
  failed: number;
  spam: number;
  optOuts: number;
}

/** Why a broadcast is held: the share that is surely over its limit. */
export interface Passed {
  of: LimitOf;
  limit: number;
  count: number;
  people: number;
}

/** Fewer people than this say nothing: three of five is a bad morning of one carrier. */
const FEWEST = 30;

const rateOf: Record<LimitOf, (soFar: SoFar) => Rate> = {
  'opt-outs': ({ optOuts, delivered }) => wilson(Math.min(optOuts, delivered), delivered),
  spam: ({ spam, delivered, failed }) => wilson(spam, delivered + failed),
  failures: ({ failed, delivered }) => wilson(failed, delivered + failed),
};

/**
 * The limit a broadcast has passed: the low end of the 95 % interval lies over it, so that the first three who leave hold
 * nothing, and a tenth of a hundred does. Null: none. What somebody let go on is asked no more.
 */
export function passedLimit(soFar: SoFar, limits: SendLimits, waived: readonly string[]): Passed | null {
  for (const what of ['spam', 'opt-outs', 'failures'] as const) {
    const limit = limits[what];
    const { low, count, of: people } = rateOf[what](soFar);
    if (limit !== null && people >= FEWEST && low > limit && !waived.includes(what))
      return { of: what, limit, count, people };
  }
  return null;
}
