import { chanceOfShares, realOnes, type Part } from './differences';
import type { Trend } from './overview';
import { wilson, type Rate } from './rates';

/** What is compared. */
export const DIMENSIONS = [
  'broadcast',
  'voicemail',
  'program',
  'wording',
  'line',
  'template',
  'number',
  'hour',
  'weekday',
  'keyword',
  'form',
  'poster',
  'source',
  'way',
  'tag',
  'region',
  'teammate',
] as const;
export type Dimension = (typeof DIMENSIONS)[number];

/**
 * By what. Of messages: `answered`, `lost` (cost somebody), of those we began; `clicked`, `redeemed` (its voucher was used), of those
 * delivered; `delivered`, of those with a receipt. Of voicemails: `called` (called back), of those left.
 * Of people who came: `stayed` (still in), `wrote` (at least once since).
 */
export const OUTCOMES = [
  ...(['answered', 'clicked', 'redeemed', 'called', 'lost', 'delivered'] as const),
  ...(['stayed', 'wrote'] as const),
] as const;
export type Outcome = (typeof OUTCOMES)[number];

const OF_MESSAGES: readonly Outcome[] = ['answered', 'clicked', 'redeemed', 'lost', 'delivered'];
const OF_PEOPLE: readonly Outcome[] = ['stayed', 'wrote'];

/** By what each can be compared, the usual one first. */
export const OUTCOMES_OF: Record<Dimension, readonly Outcome[]> = {
  broadcast: OF_MESSAGES,
  voicemail: ['called', 'delivered', 'lost'],
  program: OF_MESSAGES,
  wording: OF_MESSAGES,
  line: OF_MESSAGES,
  template: OF_MESSAGES,
  number: ['delivered', 'answered', 'clicked', 'redeemed', 'lost'],
  hour: OF_MESSAGES,
  weekday: OF_MESSAGES,
  keyword: OF_PEOPLE,
  form: OF_PEOPLE,
  poster: OF_PEOPLE,
  source: OF_PEOPLE,
  way: OF_PEOPLE,
  tag: OF_PEOPLE,
  region: OF_PEOPLE,
  teammate: ['answered', 'lost', 'delivered'],
};

/** What was counted of one thing. */
export type Counts = Partial<
  Record<
    | 'delivered'
    | 'failed'
    | 'begun'
    | 'answered'
    | 'clicked'
    | 'redeemed'
    | 'called'
    | 'lost'
    | 'joined'
    | 'stayed'
    | 'wrote',
    number
  >
>;

export interface Counted {
  key: string;
  name: string;
  counts: Counts;
  /** It is held against those of its group alone; left out: against all. */
  group?: string;
  /** Keywords: texts that were nearly it. */
  near?: number;
}

export interface Ranked extends Counted {
  rate: Rate;
  /** Against all the others together, of its group where it has one. */
  trend: Trend;
  /** Too few to say anything of. */
  few: boolean;
}

/** Below this many a share says nothing, whatever it is. */
export const FEW = 20;

export const partOf = (counts: Counts, outcome: Outcome): Part => {
  const { delivered = 0, failed = 0, joined = 0, begun = delivered } = counts;
  const of = {
    delivered: delivered + failed,
    clicked: delivered,
    redeemed: delivered,
    called: delivered,
    stayed: joined,
    wrote: joined,
    answered: begun,
    lost: begun,
  }[outcome];
  return { count: Math.min(Math.max(0, counts[outcome] ?? 0), of), of };
};

const sumOf = (parts: readonly Part[]): Part => ({
  count: parts.reduce((sum, { count }) => sum + count, 0),
  of: parts.reduce((sum, { of }) => sum + of, 0),
});

const without = (all: Part, part: Part): Part => ({ count: all.count - part.count, of: all.of - part.of });

/**
 * Each held against all the others together: the best first, and those too few for a word last. `compared`: how many differences
 * were looked at, which is counted before one is called real.
 */
export function rank(
  rows: readonly Counted[],
  outcome: Outcome,
): { ranked: Ranked[]; all: Rate; compared: number } {
  const parts = rows.map(({ counts }) => partOf(counts, outcome));
  const all = sumOf(parts);
  const groups = new Map<string, Part>();
  for (const [i, { group }] of rows.entries())
    if (group !== undefined) groups.set(group, sumOf([groups.get(group) ?? { count: 0, of: 0 }, parts[i]!]));
  const others = rows.map(({ group }, i) =>
    without(group === undefined ? all : groups.get(group)!, parts[i]!),
  );
  const chances = parts.map((part, i) => (part.of < FEW ? null : chanceOfShares(part, others[i]!)));
  const real = realOnes(chances);
  const ranked = rows.map((row, i): Ranked => {
    const rate = wilson(parts[i]!.count, parts[i]!.of);
    const usual = others[i]!.count / others[i]!.of;
    return {
      ...row,
      rate,
      trend: real[i] ? ((rate.share ?? 0) > usual ? 'more' : 'fewer') : null,
      few: parts[i]!.of < FEW,
    };
  });
  return {
    ranked: ranked.sort(
      (a, b) =>
        (a.group ?? '').localeCompare(b.group ?? '') ||
        Number(a.few) - Number(b.few) ||
        (b.rate.share ?? -1) - (a.rate.share ?? -1) ||
        b.rate.of - a.rate.of,
    ),
    all: wilson(all.count, all.of),
    compared: chances.filter((chance) => chance !== null).length,
  };
}

/** Whether more of it is what one wants. */
export const IS_GOOD: Record<Outcome, boolean> = {
  ...{ answered: true, clicked: true, redeemed: true, called: true, delivered: true },
  ...{ stayed: true, wrote: true },
  lost: false,
};

export interface Work extends Ranked {
  /** Where it is looked at by itself; null: nowhere. */
  href: string | null;
}

export interface Works {
  compare: Dimension;
  outcome: Outcome;
  rows: Work[];
  all: Rate;
  compared: number;
}

/** One line of a picture over time. `of` null: it is a count. */
export interface TimeLine {
  key: string;
  points: { from: string; n: number; of: number | null }[];
}
