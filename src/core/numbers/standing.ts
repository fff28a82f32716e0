import { chanceOfShares, realOnes, type Chance } from '../results/differences';
import { wilson, type Rate } from '../results/rates';

/** What a sender number did over a time. */
export interface NumberCounts {
  delivered: number;
  failed: number;
  /** Of those that failed: refused as spam by the carrier. */
  blocked: number;
  answered: number;
  /** Messages that cost somebody. */
  lost: number;
}

export const SIGNS = ['delivered', 'blocked', 'answered', 'lost'] as const;
/** What a number's standing is told by. */
export type Sign = (typeof SIGNS)[number];

export interface SignLine {
  sign: Sign;
  now: Rate;
  before: Rate;
  /** Null: chance explains it. */
  trend: 'better' | 'worse' | null;
}

export interface NumberStanding {
  lines: SignLine[];
  /** `unwell`: carriers take less of it than they did; `watch`: people do. */
  state: 'quiet' | 'well' | 'watch' | 'unwell';
}

const SHARES: Record<
  Sign,
  { of(counts: NumberCounts): [count: number, of: number]; more: 'better' | 'worse' }
> = {
  delivered: { of: ({ delivered, failed }) => [delivered, delivered + failed], more: 'better' },
  blocked: { of: ({ delivered, failed, blocked }) => [blocked, delivered + failed], more: 'worse' },
  answered: { of: ({ delivered, answered }) => [answered, delivered], more: 'better' },
  lost: { of: ({ delivered, lost }) => [lost, delivered], more: 'worse' },
};

/** A difference that is real and smaller than this is nobody's concern. */
const LEAST: Record<Sign, number> = { delivered: 0.02, blocked: 0.01, answered: 0.02, lost: 0.005 };

/** A number against its own past, each sign only where chance does not explain the difference and it matters. */
export function standingOf(now: NumberCounts, before: NumberCounts): NumberStanding {
  const rates = SIGNS.map((sign) => {
    const share = (counts: NumberCounts): Rate => {
      const [count, of] = SHARES[sign].of(counts);
      return wilson(Math.min(Math.max(0, count), of), of);
    };
    return { sign, now: share(now), before: share(before) };
  });
  const chances = rates.map((rate): Chance => chanceOfShares(rate.now, rate.before));
  const real = realOnes(chances);
  const lines = rates.map((rate, i): SignLine => {
    const delta = (rate.now.share ?? 0) - (rate.before.share ?? 0);
    const matters = real[i] && Math.abs(delta) >= LEAST[rate.sign];
    const more = SHARES[rate.sign].more;
    const trend = !matters ? null : delta > 0 ? more : more === 'better' ? 'worse' : 'better';
    return { ...rate, trend };
  });
  return { lines, state: stateOf(lines) };
}

function stateOf(lines: readonly SignLine[]): NumberStanding['state'] {
  const worse = lines.filter(({ trend }) => trend === 'worse').map(({ sign }) => sign);
  if (lines[0]!.now.of === 0) return 'quiet';
  if (worse.includes('delivered') || worse.includes('blocked')) return 'unwell';
  return worse.length > 0 ? 'watch' : 'well';
}
