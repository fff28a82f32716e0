import { chanceOfCounts, chanceOfShares, realOnes, type Chance } from './differences';
import { wilson, type Rate } from './rates';
import { lengthOf, periodOf, periodsOf, type Grain, type Span } from './spans';
import { LEFT_STATES, type DaySum } from './sums';

export const MEASURES = [
  'sent',
  'delivered',
  'failed',
  'clicked',
  'answered',
  'replied',
  'conversation',
  'joined',
  'left',
  'redeemed',
  'spent',
] as const;
export type Measure = (typeof MEASURES)[number];

/** Whether a difference against the time before is more than chance: `more`, `fewer`; null: it is not, or it is nobody's doing. */
export type Trend = 'more' | 'fewer' | null;

export interface OverviewLine {
  measure: Measure;
  now: number;
  before: number;
  /** Of what it is a share: of those with a receipt, of those delivered, of those we began. Null: it is no share. */
  rate: { now: Rate; before: Rate } | null;
  trend: Trend;
  /** One for each period of the span. */
  series: number[];
  /** What it consists of: reasons of failures, ways in, what came before going. Largest first. */
  parts: { reason: string; now: number; before: number }[];
}

export interface Overview {
  lines: Record<Measure, OverviewLine>;
  periods: Span[];
  /** Credits for each reply and for each conversation; null: there were none. */
  perReply: { now: number | null; before: number | null };
  perConversation: { now: number | null; before: number | null };
}

/** An overview with what it is of. */
export interface OverviewScreen extends Overview {
  span: Span;
  before: Span;
  grain: Grain;
}

type Counted = (sum: DaySum) => number;

const when =
  (...what: string[]): Counted =>
  (sum) =>
    what.includes(sum.what) ? sum.n : 0;

const COUNTED: Record<Measure, Counted> = {
  sent: when(...LEFT_STATES),
  delivered: when('delivered'),
  failed: when('failed'),
  clicked: when('clicked'),
  answered: when('answered'),
  replied: when('replied'),
  conversation: when('conversation'),
  joined: when('joined'),
  left: when('left'),
  redeemed: when('redeemed'),
  spent: ({ what, credits }) => (LEFT_STATES.some((state) => state === what) ? credits : 0),
};

/** Of which sum a measure is a share, and by which sum it is counted there; the rest are no shares. */
const SHARES: Partial<Record<Measure, { count: Counted; of: Counted }>> = {
  delivered: { count: when('delivered'), of: when('delivered', 'failed') },
  failed: { count: when('failed'), of: when('delivered', 'failed') },
  clicked: { count: when('clicked'), of: when('delivered') },
  answered: { count: when('answered'), of: when('begun') },
  // Who went after a message, by when that left: one and the same over any span.
  left: { count: when('lost'), of: when('begun') },
};

/** Counts of people's own doing, which chance moves by itself. */
const BY_COUNT: readonly Measure[] = ['joined'];
const IN_PARTS: readonly Measure[] = ['failed', 'joined', 'left'];

const total = (sums: readonly DaySum[], count: Counted): number =>
  sums.reduce((all, sum) => all + count(sum), 0);

/** What happened in a span, against as long a time before; `sums` are those of both. */
export function overviewOf(sums: readonly DaySum[], span: Span, grain: Grain, before: Span): Overview {
  const now = sums.filter(({ day }) => day >= span.from && day < span.until);
  const then = sums.filter(({ day }) => day >= before.from && day < before.until);
  const periods = periodsOf(span, grain);
  const index = periodIndex(now, periods, grain);
  const drafts = MEASURES.map((measure) => {
    const share = SHARES[measure];
    const rateOf = (of: readonly DaySum[]) => share && rate(total(of, share.count), total(of, share.of));
    const [rateNow, rateBefore] = [rateOf(now), rateOf(then)];
    return {
      ...{ measure, now: total(now, COUNTED[measure]), before: total(then, COUNTED[measure]) },
      rate: rateNow && rateBefore ? { now: rateNow, before: rateBefore } : null,
      series: seriesOf(now, COUNTED[measure], periods, index),
      parts: IN_PARTS.includes(measure) ? partsOf(now, then, COUNTED[measure]) : [],
    };
  });
  const chances = drafts.map((line): Chance => {
    if (line.rate) return chanceOfShares(line.rate.now, line.rate.before);
    return BY_COUNT.includes(line.measure)
      ? chanceOfCounts(line.now, lengthOf(span), line.before, lengthOf(before))
      : null;
  });
  const real = realOnes(chances);
  const lines = Object.fromEntries(
    drafts.map((line, i) => [line.measure, { ...line, trend: real[i] ? trendOf(line) : null }]),
  ) as Record<Measure, OverviewLine>;
  const per = (measure: Measure) => ({
    now: each(lines.spent.now, lines[measure].now),
    before: each(lines.spent.before, lines[measure].before),
  });
  return { lines, periods, perReply: per('replied'), perConversation: per('conversation') };
}

/** A receipt or a reply may be of a message whose delivery is not known: never more than all. */
const rate = (count: number, of: number): Rate => wilson(Math.min(Math.max(count, 0), of), of);

const each = (spent: number, of: number): number | null => (of > 0 ? spent / of : null);

function trendOf({ rate: shares, now, before }: Pick<OverviewLine, 'rate' | 'now' | 'before'>): Trend {
  const [a, b] = shares ? [shares.now.share ?? 0, shares.before.share ?? 0] : [now, before];
  return a > b ? 'more' : 'fewer';
}

/** In which period a day lies, asked once for each day: calendars are slow, and there are as many sums as days times kinds. */
function periodIndex(sums: readonly DaySum[], periods: readonly Span[], grain: Grain): Map<string, number> {
  const index = new Map(periods.map(({ from }, i) => [periodOf(from, grain), i]));
  const known = new Map<string, number>();
  for (const { day } of sums) if (!known.has(day)) known.set(day, index.get(periodOf(day, grain)) ?? -1);
  return known;
}

function seriesOf(
  sums: readonly DaySum[],
  count: Counted,
  periods: readonly Span[],
  index: ReadonlyMap<string, number>,
): number[] {
  const series = periods.map(() => 0);
  for (const sum of sums) {
    const i = index.get(sum.day)!;
    if (i >= 0) series[i]! += count(sum);
  }
  return series;
}

function partsOf(now: readonly DaySum[], then: readonly DaySum[], count: Counted): OverviewLine['parts'] {
  const parts = new Map<string, { now: number; before: number }>();
  for (const [side, sums] of [
    ['now', now],
    ['before', then],
  ] as const)
    for (const sum of sums) {
      const n = count(sum);
      if (n === 0) continue;
      const part = parts.get(sum.reason) ?? { now: 0, before: 0 };
      part[side] += n;
      parts.set(sum.reason, part);
    }
  return [...parts]
    .map(([reason, part]) => ({ reason, ...part }))
    .filter((part) => part.now !== 0 || part.before !== 0)
    .sort((a, b) => b.now - a.now || b.before - a.before);
}
