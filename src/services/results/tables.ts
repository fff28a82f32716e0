import { OUTCOMES_OF, type Dimension, type Outcome, type Works } from '@/core/results/works';
import { DELAY_STEPS } from '@/core/results/delays';
import type { ReportPlace } from '@/core/results/report';
import type { ResultTable } from '@/core/results/table';
import { stillIn } from '@/core/results/survival';
import type { Rate } from '@/core/results/rates';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import type { Refusal } from '@/services/kit/validation';
import type { Asked } from './asked';
import { readKeeping, readOverview, readSpeed } from './screen';
import { readWorks } from './works';

/** What else a page of results is asked for. */
export interface More {
  compare?: Dimension;
  outcome?: Outcome;
}

/** The tables of a page of results. */
export async function readTables(
  scope: Scope,
  place: ReportPlace,
  asked: Asked,
  { compare = 'broadcast', outcome }: More,
): Promise<Result<ResultTable[], Refusal>> {
  switch (place) {
    case 'overview':
      return ok(await overviewTables(scope, asked));
    case 'works': {
      const by = outcome && OUTCOMES_OF[compare].includes(outcome) ? outcome : undefined;
      const works = await readWorks(scope, asked, compare, by);
      return works.ok ? ok([worksTable(works.value)]) : works;
    }
    case 'keeping':
      return ok(await keepingTables(scope, asked));
    case 'speed':
      return ok(await speedTables(scope, asked));
  }
}

const share = (rate: Rate | undefined): number | null => rate?.share ?? null;

async function overviewTables(scope: Scope, asked: Asked): Promise<ResultTable[]> {
  const { lines, periods } = await readOverview(scope, asked);
  return [
    {
      name: 'overview',
      columns: ['what', 'reason', 'now', 'share', 'before', 'share before', 'difference'],
      rows: Object.values(lines).flatMap(({ measure, now, before, rate, trend, parts }) => [
        [measure, '', now, share(rate?.now), before, share(rate?.before), trend ?? ''],
        ...parts.map((part) => [measure, part.reason, part.now, null, part.before, null, '']),
      ]),
    },
    {
      name: 'over time',
      columns: ['from', ...Object.keys(lines)],
      rows: periods.map(({ from }, i) => [from, ...Object.values(lines).map(({ series }) => series[i]!)]),
    },
  ];
}

function worksTable({ compare, outcome, rows }: Works): ResultTable {
  return {
    name: `${compare} by ${outcome}`,
    columns: [compare, 'of', outcome, 'share', 'low', 'high', 'against the others'],
    rows: rows.map(({ name, rate, trend, few }) => [
      ...[name, rate.of, rate.count, rate.share, rate.low, rate.high],
      few ? 'too few' : (trend ?? 'as the others'),
    ]),
  };
}

async function keepingTables(scope: Scope, asked: Asked): Promise<ResultTable[]> {
  const { cohorts, often } = await readKeeping(scope, asked);
  const days = [30, 60, 90, 180, 270, 360];
  return [
    {
      name: 'still in',
      columns: ['month of coming', 'people', ...days.map((day) => `after ${day} days`)],
      rows: cohorts.map(({ month, people, steps, watched }) => [
        ...[month, people],
        ...days.map((day) => stillIn(steps, day, watched)?.share ?? null),
      ]),
    },
    {
      name: 'wrote',
      columns: ['month of coming', 'month of stay', 'people', 'wrote'],
      rows: cohorts.flatMap(({ month, wrote }) =>
        wrote.map((row) => [month, row.month + 1, row.of, row.count]),
      ),
    },
    {
      name: 'how often',
      columns: ['got in 30 days before', 'delivered', 'cost somebody'],
      rows: often.map(({ texts, delivered, lost }) => [texts, delivered, lost]),
    },
  ];
}

async function speedTables(scope: Scope, asked: Asked): Promise<ResultTable[]> {
  const { teammates, hours, inquiries, delays } = await readSpeed(scope, asked);
  const seconds = (ms: number) => Math.round(ms / 1_000);
  const answered = (
    name: string,
    rows: readonly { name: string | null; answered: number; median: number; p95: number }[],
  ) => ({
    ...{ name, columns: ['by', 'answered', 'median, seconds', '95 %, seconds'] },
    rows: rows.map((row) => [row.name ?? '', row.answered, seconds(row.median), seconds(row.p95)]),
  });
  return [
    answered('inquiries', inquiries),
    answered('teammates', teammates),
    answered(
      'hours',
      hours.map((row) => ({ ...row, name: `${row.hour}:00` })),
    ),
    {
      name: 'when people answer',
      columns: ['kind', 'answers', ...DELAY_STEPS.map(({ name }) => name)],
      rows: delays.map(({ kind, all, steps }) => [kind, all, ...steps]),
    },
  ];
}
