import { MONTH_DAYS, type Cohort } from '@/core/results/keeping';
import { wilson } from '@/core/results/rates';
import { stillIn } from '@/core/results/survival';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { count, percent, plural } from '@/ui/kit/numbers';
import { plainMonth } from '@/ui/kit/time';
import { Curves } from './curves';
import { RateLine } from './result-lines';

/** The share that is still in, day by day since they came. */
export function StayCurves({ cohorts }: { cohorts: readonly Cohort[] }) {
  const lowest = Math.min(1, ...cohorts.flatMap(({ steps }) => steps.map(({ share }) => share)));
  const curves = cohorts.map(({ month, steps, watched }) => ({
    ...{ key: month, name: plainMonth(month).split(' ')[0]! },
    points: [
      ...steps.map(({ day, share }) => ({ x: day, y: share, words: '' })),
      { x: watched, y: steps.at(-1)!.share, words: '' },
    ],
  }));
  const longest = Math.max(...cohorts.map(({ watched }) => watched));
  const every = longest > 200 ? 60 : longest > 60 ? 15 : 5;
  const ticks = Array.from({ length: Math.floor(longest / every) + 1 }, (_, i) => ({
    x: i * every,
    words: i === 0 ? 'came' : `day ${i * every}`,
  }));
  return (
    <Curves
      curves={curves}
      ticks={ticks}
      label="The share still in by days since they came, one line a month of coming; the table below says the same."
      // So that a difference of some in a hundred is seen; the axis says where it begins.
      from={Math.max(0, Math.floor((lowest - 0.02) * 20) / 20)}
      stepped
    />
  );
}

/** Months of 30 days that somebody of any cohort has seen. */
const monthsOf = (cohorts: readonly Cohort[]): number[] =>
  Array.from(
    { length: Math.floor(Math.max(0, ...cohorts.map(({ watched }) => watched)) / MONTH_DAYS) },
    (_, i) => i + 1,
  ).slice(0, 12);

const WHO: ListColumn<Cohort>[] = [
  { title: 'Came in', cell: ({ month }) => plainMonth(month) },
  { title: 'People', kind: 'number', cell: ({ people }) => count(people) },
];

export function StayTable({ cohorts }: { cohorts: readonly Cohort[] }) {
  const columns: ListColumn<Cohort>[] = [
    ...WHO,
    ...monthsOf(cohorts).map((month) => ({
      title: `after ${month * MONTH_DAYS} days`,
      kind: 'number' as const,
      cell: ({ steps, watched }: Cohort) => {
        const step = stillIn(steps, month * MONTH_DAYS, watched);
        return step === null ? (
          <span className="text-soft">–</span>
        ) : (
          <span
            title={`95 % interval: ${percent(step.low)} to ${percent(step.high)}; ${plural(step.atRisk, 'person was', 'people were')} watched at the last change`}
          >
            {percent(step.share)}
          </span>
        );
      },
    })),
  ];
  return (
    <ListTable
      label="Still in"
      rows={cohorts}
      columns={columns}
      rowKey={({ month }) => month}
      empty="Nobody has come yet."
    />
  );
}

export function WroteTable({ cohorts }: { cohorts: readonly Cohort[] }) {
  const months = Math.min(12, Math.max(0, ...cohorts.map(({ wrote }) => wrote.length)));
  const columns: ListColumn<Cohort>[] = [
    ...WHO,
    ...Array.from({ length: months }, (_, month) => ({
      title: month === 0 ? 'first month' : `month ${month + 1}`,
      kind: 'number' as const,
      cell: ({ wrote }: Cohort) => {
        const row = wrote[month];
        return row ? (
          <span title={`${count(row.count)} of ${count(row.of)}`}>{percent(row.count / row.of)}</span>
        ) : (
          <span className="text-soft">–</span>
        );
      },
    })),
  ];
  return (
    <ListTable
      label="Wrote"
      rows={cohorts}
      columns={columns}
      rowKey={({ month }) => month}
      empty="Nobody has been here for a month."
    />
  );
}

interface Often {
  texts: number;
  delivered: number;
  lost: number;
}

/** Messages by how many somebody had got in the thirty days before, and how many of them cost somebody. */
export function HowOften({ rows }: { rows: readonly Often[] }) {
  const last = rows.at(-1)?.texts ?? 0;
  return (
    <ListTable
      label="How often is too often"
      rows={rows}
      columns={[
        {
          title: 'Had got in the 30 days before',
          cell: ({ texts }) => `${texts}${texts === last && texts >= 10 ? ' or more' : ''}`,
        },
        { title: 'Messages delivered', kind: 'number', cell: ({ delivered }) => count(delivered) },
        { title: 'Cost somebody', kind: 'number', cell: ({ lost }) => count(lost) },
        {
          title: 'Share',
          kind: 'number',
          cell: ({ delivered, lost }) => <RateLine rate={wilson(lost, delivered)} />,
        },
      ]}
      rowKey={({ texts }) => String(texts)}
      empty="No broadcast and no sequence was delivered in these days."
    />
  );
}
