import { wilson, type Rate } from '../results/rates';
import { hashOf } from '../shared/hash';

/** By what wordings are compared. */
export type Measure = 'replies' | 'clicks' | 'opt-outs';

export interface Wording {
  /** Of an e-mail. */
  subject: string | null;
  body: string;
}

/** Wordings beside the first, and how they are compared. */
export interface Comparison {
  /** The second to the fourth. */
  others: Wording[];
  by: Measure;
  /** Of a hundred people, so many get the wordings first and the rest wait for the better; null: all are split at once. */
  first: number | null;
  /** The better one goes to the rest by itself, if the difference is real; else somebody chooses. */
  byItself: boolean;
}

export const MOST_WORDINGS = 4;

/** A, B, C, D. */
export const letterOf = (wording: number): string => String.fromCharCode(65 + wording);

/** Which wording somebody gets: the same whenever it is asked, and as many people each as chance gives. */
export const wordingOf = (broadcastId: string, personId: string, wordings: number): number =>
  wordings <= 1 ? 0 : hashOf(`wording ${broadcastId} ${personId}`) % wordings;

/** Whether somebody is among those who get the wordings first. Drawn by another lot than the wording. */
export const isFirst = (broadcastId: string, personId: string, first: number | null): boolean =>
  first === null || hashOf(`first ${broadcastId} ${personId}`) % 10_000 < first * 100;

/** What became of one wording: people it reached, and how many of them did what it is compared by. */
export interface Tally {
  people: number;
  acts: number;
}

export interface Verdict {
  /** The wording that is better than each other one; null: no difference is real yet. */
  better: number | null;
  /** Of each wording, with its 95 % interval. */
  rates: Rate[];
  /** The wording with the best rate so far, whether that is real or not; null: nothing was done yet. */
  ahead: number | null;
}

/** How often chance alone may be taken for a difference, however often somebody looks. */
const ALPHA = 0.05;

/**
 * Whether one wording is better than all others. The test may be asked as often as one likes while answers come in:
 * for each pair, of what was done by the people of both, the share of the first is the share of the people who got it, if
 * the wordings are alike. Against that stands the mixture over every share there could be; their ratio is a martingale,
 * which grows beyond 1/alpha with at most the chance alpha, whenever one looks (J. Ville, 1939; H. Robbins, Annals of
 * Mathematical Statistics 41, 1970, 1397-1409). The chance is divided among the pairs (Bonferroni). What one person did
 * is counted once, so that a lively answerer is one.
 */
export function judge(tallies: readonly Tally[], by: Measure): Verdict {
  const rates = tallies.map(({ people, acts }) => wilson(Math.min(acts, people), people));
  const ahead = aheadOf(rates, by);
  const pairs = (tallies.length * (tallies.length - 1)) / 2;
  const real =
    ahead !== null &&
    tallies.every((other, i) => i === ahead || evidence(tallies[ahead]!, other) >= Math.log(pairs / ALPHA));
  return { better: real ? ahead : null, rates, ahead };
}

/** The one with the best rate; null where nothing was done or the best are alike. */
function aheadOf(rates: readonly Rate[], by: Measure): number | null {
  if (rates.length < 2 || rates.every(({ count }) => count === 0)) return null;
  const worth = rates.map(({ share }) => (share === null ? -Infinity : by === 'opt-outs' ? -share : share));
  const best = Math.max(...worth);
  return worth.filter((one) => one === best).length === 1 ? worth.indexOf(best) : null;
}

/** The logarithm of how much likelier what was seen is if two wordings differ than if they are alike. */
function evidence(one: Tally, other: Tally): number {
  const [a, b] = [one.acts, other.acts];
  if (one.people === 0 || other.people === 0) return 0;
  const alike = one.people / (one.people + other.people);
  const mixture = logFactorial(a) + logFactorial(b) - logFactorial(a + b + 1);
  return mixture - a * Math.log(alike) - b * Math.log(1 - alike);
}

const factorials = [0];

function logFactorial(n: number): number {
  for (let i = factorials.length; i <= n; i++) factorials.push(factorials[i - 1]! + Math.log(i));
  return factorials[n]!;
}
