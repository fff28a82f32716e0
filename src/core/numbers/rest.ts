import { DAY, type Millis } from '../shared/instant';
import type { NumberStanding } from './standing';

/** How long a number rests that is unwell; each time it is unwell again soon after, twice as long, and never longer than four weeks. */
const REST_DAYS = 7;
const LONGEST_REST_DAYS = 28;

/** How many of what it usually carries a number carries on the day it is back: a sixteenth, then twice as many each day. */
const FIRST_SHARE = 1 / 16;
/** Fewer than these a day would not tell how it is. */
const FEWEST = 25;

/** A number that may be rested, among the others that a program writes from. */
export interface Restable {
  id: string;
  state: NumberStanding['state'];
  registered: boolean;
  resting: boolean;
}

/**
 * Whether a number that is unwell can be rested: every program that writes from it has another that is registered, awake and not
 * unwell itself. Otherwise the program that would fall silent, by its place; -1: it can.
 */
export const silentWithout = (id: string, pools: readonly (readonly Restable[])[]): number =>
  pools.findIndex(
    (pool) =>
      !pool.some(
        (one) =>
          one.id !== id && one.registered && !one.resting && (one.state === 'well' || one.state === 'quiet'),
      ),
  );

export const restUntil = (at: Millis, restsBefore: number): Millis =>
  at + Math.min(LONGEST_REST_DAYS, REST_DAYS * 2 ** Math.min(restsBefore, 10)) * DAY;

/** Texts a day it may carry while it is brought back, within its own cap. */
export function capWhile(
  { backAt, usual, cap }: { backAt: Millis; usual: number; cap: number | null },
  at: Millis,
): number {
  const days = Math.max(0, Math.floor((at - backAt) / DAY));
  const now = Math.max(FEWEST, Math.ceil(usual * FIRST_SHARE * 2 ** Math.min(days, 30)));
  return cap === null ? now : Math.min(cap, now);
}

/** It carries all it used to. */
export const isBack = (back: { backAt: Millis; usual: number }, at: Millis): boolean =>
  at - back.backAt >= DAY && capWhile({ ...back, cap: null }, at) >= back.usual;
