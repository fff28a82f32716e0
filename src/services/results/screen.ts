import { addDays } from '@/core/audience/days';
import { cohortsOf, type Cohort } from '@/core/results/keeping';
import { overviewOf, type Measure, type OverviewScreen } from '@/core/results/overview';
import { grainOf, periodOf, periodsOf, spanBefore, type Grain } from '@/core/results/spans';
import { delayOf, DELAY_LIMITS, type Delays } from '@/core/results/delays';
import type { Dimension, Outcome, TimeLine } from '@/core/results/works';
import { Program } from '@/db/programs/entities';
import type { Scope } from '@/db/kit/scope';
import { peopleBehind, type BehindRow } from '@/db/results/behind';
import { cameSums, howOften, staySums, type OftenRow } from '@/db/results/keeping';
import { daySums } from '@/db/results/sums';
import { answerDelays, answeredAt, answeredBy, inquiriesAnswered } from '@/db/results/speed';
import {
  keptOverTime,
  peopleOverTime,
  sendsOverTime,
  WAYS_IN,
  type PeriodRow,
  type WayIn,
} from '@/db/results/works';
import { instantsOf, type Asked } from './asked';

/** What happened in a span against as long a time before it. */
export async function readOverview(scope: Scope, asked: Asked, by?: Grain): Promise<OverviewScreen> {
  const { span } = asked;
  const before = spanBefore(span);
  const grain = by ?? grainOf(span);
  const sums = await daySums(scope, { from: before.from, until: span.until }, asked);
  return { ...overviewOf(sums, span, grain, before), span, before, grain };
}

const BEHIND_AT_ONCE = 100;

/** The people behind a number of an overview, a page at a time. */
export async function readBehind(
  scope: Scope,
  asked: Asked,
  { measure, reason, page }: { measure: Measure; reason: string | null; page: number },
): Promise<{ rows: BehindRow[]; more: boolean }> {
  const rows = await peopleBehind(
    scope,
    { measure, reason, program: asked.program, channel: asked.channel, ...instantsOf(asked) },
    page * BEHIND_AT_ONCE,
    BEHIND_AT_ONCE + 1,
  );
  return { rows: rows.slice(0, BEHIND_AT_ONCE), more: rows.length > BEHIND_AT_ONCE };
}

/** Cohorts go back so far. */
const KEPT_DAYS = 396;
const OFTEN_DAYS = 91;
const MOST_OFTEN = 10;

/** How long people stay, by month of coming, and how often is too often. */
export async function readKeeping(
  scope: Scope,
  { today, zone, program }: Asked,
): Promise<{ cohorts: Cohort[]; often: OftenRow[]; often_of_one_in: number }> {
  const since = periodOf(addDays(today, -KEPT_DAYS), 'month');
  const cohorts = cohortsOf(
    await cameSums(scope, since, program),
    await staySums(scope, since, program),
    today,
  );
  const { from, until } = instantsOf({ span: { from: addDays(today, -OFTEN_DAYS), until: today }, zone });
  const { rows: often, oneIn } = await howOften(scope, from, until, MOST_OFTEN);
  return { cohorts, often, often_of_one_in: oneIn };
}

/** How soon people are answered, and how soon they answer. */
export async function readSpeed(scope: Scope, asked: Asked) {
  const instants = instantsOf(asked);
  const rows = await answerDelays(scope, instants, DELAY_LIMITS);
  return {
    teammates: await answeredBy(scope, instants),
    hours: await answeredAt(scope, instants),
    inquiries: await inquiriesAnswered(scope, instants),
    delays: delaysOf(rows),
  };
}

function delaysOf(rows: readonly { kind: string; step: number; n: number }[]): Delays[] {
  const kinds = [...new Set(rows.map(({ kind }) => kind))];
  return kinds
    .map((kind) =>
      delayOf(
        kind,
        rows.filter((row) => row.kind === kind),
      ),
    )
    .sort((a, b) => b.all - a.all);
}

const OF_OUTCOME: Partial<Record<Outcome, readonly string[]>> = {
  ...{ answered: ['begun'], clicked: ['delivered'], redeemed: ['delivered'], lost: ['begun'] },
  delivered: ['delivered', 'failed'],
};

/**
 * Some of what is compared, over time: shares of programs, what arrived from numbers, what came of broadcasts day by day, and how
 * many came by each way; other things have no time.
 */
export async function readOverTime(
  scope: Scope,
  asked: Asked,
  { compare, outcome, keys }: { compare: Dimension; outcome: Outcome; keys: readonly string[] },
): Promise<TimeLine[] | null> {
  const rows = await rowsOverTime(scope, asked, compare, outcome, keys);
  if (rows === null) return null;
  const grain = grainOf(asked.span) === 'day' ? 'day' : 'week';
  const periods = periodsOf(asked.span, grain);
  return keys.map((key) => ({
    key,
    points: periods.map(({ from }) => {
      const those = rows.filter(
        (row) => row.key === key && periodOf(row.day, grain) === periodOf(from, grain),
      );
      const of = those.some((row) => row.of !== null)
        ? those.reduce((sum, row) => sum + (row.of ?? 0), 0)
        : null;
      return { from, n: those.reduce((sum, row) => sum + row.n, 0), of };
    }),
  }));
}

const isWayIn = (compare: Dimension): compare is WayIn => WAYS_IN.some((way) => way === compare);

async function rowsOverTime(
  scope: Scope,
  asked: Asked,
  compare: Dimension,
  outcome: Outcome,
  keys: readonly string[],
): Promise<PeriodRow[] | null> {
  if (isWayIn(compare)) return peopleOverTime(scope, compare, keys, instantsOf(asked));
  if (compare === 'broadcast' || compare === 'voicemail')
    return sendsOverTime(scope, keys, outcome, instantsOf(asked));
  const of = OF_OUTCOME[outcome];
  // Of numbers only what arrived is kept by days.
  if (!of || !(compare === 'program' || (compare === 'number' && outcome === 'delivered'))) return null;
  return keptOverTime(scope, compare, keys, { count: outcome, of }, asked.span);
}

/** Programs one can narrow down to. */
export const programsToChoose = async (scope: Scope): Promise<{ id: string; name: string }[]> =>
  (await scope.em.find(Program, { archivedAt: null }, { orderBy: { name: 'asc' } })).map(({ id, name }) => ({
    id,
    name,
  }));
