import { betaShare, logGamma } from './beta';

/** How often chance alone gives at least as large a difference, between 0 and 1; null: there is nothing to compare. */
export type Chance = number | null;

export interface Part {
  count: number;
  of: number;
}

/** Above this many in all the exact test is slow and says the same. */
const EXACT_UP_TO = 4_000;

/**
 * Two shares: Fisher's exact test (both sides, by doubling the smaller), and with many the test of two proportions with
 * a pooled share. Source: R. A. Fisher, The Design of Experiments (1935).
 */
export function chanceOfShares(a: Part, b: Part): Chance {
  if (a.of === 0 || b.of === 0) return null;
  const count = a.count + b.count;
  const all = a.of + b.of;
  if (count === 0 || count === all) return 1;
  return all <= EXACT_UP_TO ? fisher(a, b) : pooled(a, b);
}

function fisher(a: Part, b: Part): number {
  const count = a.count + b.count;
  const least = Math.max(0, count - b.of);
  const most = Math.min(count, a.of);
  const probability = (k: number) =>
    Math.exp(choose(a.of, k) + choose(b.of, count - k) - choose(a.of + b.of, count));
  let [below, above] = [0, 0];
  for (let k = least; k <= most; k++) {
    const p = probability(k);
    if (k <= a.count) below += p;
    if (k >= a.count) above += p;
  }
  return Math.min(1, 2 * Math.min(below, above));
}

/** The logarithm of how many ways there are to choose `k` of `n`. */
const choose = (n: number, k: number): number => logGamma(n + 1) - logGamma(k + 1) - logGamma(n - k + 1);

function pooled(a: Part, b: Part): number {
  const share = (a.count + b.count) / (a.of + b.of);
  const error = Math.sqrt(share * (1 - share) * (1 / a.of + 1 / b.of));
  return twoSided(Math.abs(a.count / a.of - b.count / b.of) / error);
}

/** How much of the normal distribution lies farther out than `z` on both sides. Abramowitz and Stegun 7.1.26, good to 1.5e-7. */
function twoSided(z: number): number {
  const x = z / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * x);
  const sum = [1.061405429, -1.453152027, 1.421413741, -0.284496736, 0.254829592].reduce(
    (total, factor) => total * t + factor,
    0,
  );
  return Math.min(1, sum * t * Math.exp(-x * x));
}

/**
 * Two counts over spans of some length: what fell into the one, of all that fell, is binomial by the lengths when nothing
 * changed.
 */
export function chanceOfCounts(count: number, length: number, before: number, lengthBefore: number): Chance {
  const n = count + before;
  if (n === 0 || length === 0 || lengthBefore === 0) return null;
  const share = length / (length + lengthBefore);
  const atLeast = count === 0 ? 1 : betaShare(share, count, n - count + 1);
  const atMost = count === n ? 1 : 1 - betaShare(share, count + 1, n - count);
  return Math.min(1, 2 * Math.min(atLeast, atMost));
}

/** Of differences that are called real, at most this share is chance. */
export const FALSE_SHARE = 0.05;

/**
 * Which of several differences are real, after counting how many were compared: of those called real at most `share` are
 * chance on average. Null was not compared and is never real. Source: Y. Benjamini and Y. Hochberg, JRSS B 57 (1995).
 */
export function realOnes(chances: readonly Chance[], share = FALSE_SHARE): boolean[] {
  const compared = chances.filter((one): one is number => one !== null).sort((a, b) => a - b);
  const limit = compared.findLast((p, i) => p <= ((i + 1) / compared.length) * share);
  return chances.map((one) => one !== null && limit !== undefined && one <= limit);
}
