import { betaQuantile } from '../results/beta';
import { MINUTE, type Millis } from '../shared/instant';

/** Calls back are counted by quarters of an hour after the voicemail was left. */
export const QUARTER: Millis = 15 * MINUTE;

/** Whoever calls within this time calls back. */
export const CALLED_BACK_WITHIN: Millis = 7 * 24 * 60 * MINUTE;

/** Quarters that are told apart; what comes later comes thinly. */
export const QUARTERS_KNOWN = 32;

/**
 * What is thought of calls back before anything was dropped. A few in a hundred over days are usual, half of a small batch
 * within the hour has been seen: one in ten, so loosely held that thirty voicemails of one’s own outweigh it.
 */
export const PRIOR = { called: 1.5, silent: 13.5 } as const;

/** Of those who call: six in ten within the first hour, a quarter in the seven hours after it, the rest over days. */
export const USUAL_SPREAD: readonly number[] = spreadOf();
const SPREAD_WEIGHT = 20;

function spreadOf(): number[] {
  const first = [0.24, 0.17, 0.11, 0.08];
  const later = Array.from({ length: QUARTERS_KNOWN - first.length }, (_, i) => 0.93 ** i);
  const sum = later.reduce((total, one) => total + one, 0);
  return [...first, ...later.map((one) => (one / sum) * 0.25)];
}

/** Drops differ from each other by more than chance: no past counts for more than so many voicemails. */
const MOST_WEIGHT = 400;

/** What was seen: voicemails left, weighed by how much of their time has passed, and calls back by quarter. */
export interface Seen {
  /** Voicemails whose time to call back is over or partly so, each between 0 and 1. */
  exposed: number;
  /** People who called back. */
  called: number;
  /** Of those, how many in each quarter of an hour after it was left. */
  byQuarter: readonly number[];
  /** And how many later than the quarters that are told apart. */
  later: number;
}

export const NOTHING_SEEN: Seen = { exposed: 0, called: 0, byQuarter: [], later: 0 };

export interface CallbackRate {
  /** The share of voicemails left that brings a call: the best guess, and where it lies nine times in ten. */
  mean: number;
  low: number;
  high: number;
  /** Of those who call, which share in each quarter; it sums to less than 1, since some come later. */
  spread: number[];
  /** Whether anything of one’s own is in it. */
  ownPast: boolean;
}

/** What to think of calls back after what was seen: Beta over the rate, the usual spread outweighed by one’s own. */
export function callbackRate({ exposed, called, byQuarter, later }: Seen): CallbackRate {
  const weight = exposed > MOST_WEIGHT ? MOST_WEIGHT / exposed : 1;
  const [yes, no] = [PRIOR.called + called * weight, PRIOR.silent + Math.max(0, exposed - called) * weight];
  const total = byQuarter.reduce((sum, one) => sum + one, 0) + later;
  return {
    mean: yes / (yes + no),
    low: betaQuantile(0.05, yes, no),
    high: betaQuantile(0.95, yes, no),
    spread: USUAL_SPREAD.map(
      (usual, i) => (usual * SPREAD_WEIGHT + (byQuarter[i] ?? 0)) / (SPREAD_WEIGHT + total),
    ),
    ownPast: exposed > 0,
  };
}

/** Which share of those who will call has called so long after it was left. */
export function shareBy(spread: readonly number[], after: Millis): number {
  if (after >= CALLED_BACK_WITHIN) return 1;
  // A worker whose clock is a little ahead left it: nobody has called yet.
  if (after <= 0) return 0;
  const quarters = after / QUARTER;
  const whole = Math.floor(quarters);
  let sum = 0;
  for (let i = 0; i < Math.min(whole, spread.length); i += 1) sum += spread[i]!;
  if (whole < spread.length) return sum + spread[whole]! * (quarters - whole);
  const known = spread.reduce((total, one) => total + one, 0);
  const rest = CALLED_BACK_WITHIN / QUARTER - spread.length;
  return known + ((1 - known) * (quarters - spread.length)) / rest;
}

/**
 * What was seen of voicemails left at these moments: one left a minute ago has hardly had time to be called back, and says little.
 * @param left when each was left, how long ago
 */
export const exposure = (spread: readonly number[], left: readonly Millis[]): number =>
  left.reduce((sum, ago) => sum + shareBy(spread, ago), 0);
