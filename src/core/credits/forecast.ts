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

/** All that something will take, from its first until its last. */
export interface DrainLine {
  what: string;
  from: Millis;
  until: Millis;
  credits: number;
}

/** A forecast as it is kept and shown. */
export interface CreditsAhead extends BalanceAhead {
  /** When it was worked out, and from what. */
  at: Millis;
  balance: number;
  ahead: DrainLine[];
  /** Credits a day that go by themselves, beside what is scheduled. */
  usualADay: number;
}

/** Hours between two points of the line that is shown. */
const SHOWN_EVERY = 6;

/** Few enough points and lines to be kept and drawn: what is ahead by what it is for, the earliest first. */
export function shownAhead(
  ahead: BalanceAhead,
  drains: readonly Drain[],
): Pick<CreditsAhead, 'points' | 'ahead'> {
  const lines = new Map<string, DrainLine>();
  for (const { what, at, credits } of drains) {
    const known = lines.get(what) ?? { what, from: at, until: at, credits: 0 };
    lines.set(what, {
      ...{ what, credits: known.credits + credits },
      ...{ from: Math.min(known.from, at), until: Math.max(known.until, at) },
    });
  }
  return {
    points: ahead.points.filter((_, i) => i % SHOWN_EVERY === SHOWN_EVERY - 1),
    ahead: [...lines.values()].sort((a, b) => a.from - b.from),
  };
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
