import { HOUR, type Millis } from '../shared/instant';

/** Credits that are expected to go at some time. */
export interface Drain {
  at: Millis;
  credits: number;
  what: string;
}

export interface BalanceAhead {
  /** What is left at the end of each hour; below zero: what lacks. */
  points: { at: Millis; left: number }[];
  /** When there is too little for what is ahead; null: not within the time looked at. */
  enoughUntil: Millis | null;
  /** What finds too little then; null: what usually goes by itself. */
  because: string | null;
  /** Credits that lack for all that is ahead. */
  lacking: number;
}

/** A forecast as it is kept and shown. */
export interface CreditsAhead extends BalanceAhead {
  /** When it was worked out, and from what. */
  at: Millis;
  balance: number;
  /** What is ahead, the earliest first. */
  drains: Drain[];
  /** Credits a day that go by themselves, beside what is scheduled. */
  usualADay: number;
}

/** Drains that are shown, and hours between two points of the line. */
const SHOWN_DRAINS = 40;
const SHOWN_EVERY = 6;

/** Few enough points and lines to be kept and drawn: what is scheduled, by what it is for and by the day. */
export function shownAhead(ahead: CreditsAhead, dayOf: (at: Millis) => string): CreditsAhead {
  const days = new Map<string, Drain>();
  for (const drain of ahead.drains) {
    const key = JSON.stringify([drain.what, dayOf(drain.at)]);
    const known = days.get(key);
    days.set(
      key,
      known ? { ...known, at: Math.min(known.at, drain.at), credits: known.credits + drain.credits } : drain,
    );
  }
  const drains = [...days.values()].sort((a, b) => a.at - b.at).slice(0, SHOWN_DRAINS);
  return { ...ahead, drains, points: ahead.points.filter((_, i) => i % SHOWN_EVERY === SHOWN_EVERY - 1) };
}

/**
 * What is left, hour by hour: less what is scheduled, and less what usually goes beside it, by the hour of the week.
 * What was due and still waits goes now.
 */
export function balanceAhead(
  balance: number,
  drains: readonly Drain[],
  usual: (at: Millis) => number,
  { now, until }: { now: Millis; until: Millis },
): BalanceAhead {
  const ordered = [...drains]
    .map((drain) => ({ ...drain, at: Math.max(drain.at, now) }))
    .filter(({ at }) => at < until)
    .sort((a, b) => a.at - b.at);
  let [left, next] = [balance, 0];
  let [enoughUntil, because]: [Millis | null, string | null] = [null, null];
  const points: BalanceAhead['points'] = [];
  for (let hour = now; hour < until; hour += HOUR) {
    for (; next < ordered.length && ordered[next]!.at < hour + HOUR; next++) {
      const { at, credits, what } = ordered[next]!;
      left -= credits;
      if (left < 0 && enoughUntil === null) [enoughUntil, because] = [at, what];
    }
    left -= usual(hour);
    if (left < 0 && enoughUntil === null) enoughUntil = hour;
    points.push({ at: hour + HOUR, left });
  }
  return { points, enoughUntil, because, lacking: Math.max(0, Math.ceil(-left)) };
}
