import { ChoiceLink } from '@/ui/kit/choice-link';
import { Link } from '@/ui/kit/link';
import { METHOD_WORDS, type Method } from '@/core/consent/ledger';
import { FAILURE_WORDS, type FailureReason } from '@/core/delivery/failure';
import { KINDS, type MessageKind } from '@/core/message/kinds';
import type { Measure, OverviewLine, OverviewScreen, Trend } from '@/core/results/overview';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count, percent } from '@/ui/kit/numbers';
import { Bars } from './bars';
import { resultsHref, type Look } from './look';

export const MEASURE_WORDS: Record<Measure, { name: string; of: string | null; moreIsGood: boolean | null }> =
  {
    sent: { name: 'Sent', of: null, moreIsGood: null },
    delivered: { name: 'Delivered', of: 'of those with a receipt', moreIsGood: true },
    failed: { name: 'Failed', of: 'of those with a receipt', moreIsGood: false },
    clicked: { name: 'Clicked', of: 'of those delivered', moreIsGood: true },
    answered: { name: 'Answered', of: 'of what you began and was delivered', moreIsGood: true },
    replied: { name: 'Replies', of: null, moreIsGood: null },
    conversation: { name: 'Conversations begun', of: null, moreIsGood: null },
    joined: { name: 'People in', of: null, moreIsGood: true },
    left: { name: 'People out', of: 'after what you began, of what was delivered', moreIsGood: false },
    redeemed: { name: 'Vouchers used', of: null, moreIsGood: null },
    spent: { name: 'Credits spent', of: null, moreIsGood: null },
  };

/** What a part of a measure is called. */
export function reasonWords(measure: Measure, reason: string): string {
  if (measure === 'failed') return FAILURE_WORDS[reason as FailureReason] ?? reason;
  if (measure === 'joined') return METHOD_WORDS[reason as Method] ?? reason;
  return reason === '' ? 'after nothing of ours' : `after: ${KINDS[reason as MessageKind]?.words ?? reason}`;
}

interface Row {
  key: string;
  measure: Measure;
  reason: string | null;
  line: OverviewLine;
  now: number;
  before: number;
}

const rowsOf = (lines: OverviewScreen['lines']): Row[] =>
  Object.values(lines).flatMap((line): Row[] => [
    { key: line.measure, measure: line.measure, reason: null, line, now: line.now, before: line.before },
    // One way in is told by the whole.
    ...(line.parts.length > 1
      ? line.parts.map(({ reason, now, before }) => ({
          ...{ key: `${line.measure} ${reason}`, measure: line.measure, reason, line, now, before },
        }))
      : []),
  ]);

/** Everything that happened, each count leading to its people, against as long a time before. */
export function OverviewTable({
  overview,
  look,
  chosen,
}: {
  overview: OverviewScreen;
  look: Look;
  /** Which is drawn above. */
  chosen: Measure;
}) {
  const columns: ListColumn<Row>[] = [
    {
      title: 'What',
      cell: ({ measure, reason }) =>
        reason === null ? (
          <ChoiceLink href={resultsHref('/results', look, { measure })} isOn={measure === chosen} is="true">
            {MEASURE_WORDS[measure].name}
          </ChoiceLink>
        ) : (
          <span className="pl-5 text-soft">{reasonWords(measure, reason)}</span>
        ),
    },
    {
      title: 'Now',
      kind: 'number',
      cell: ({ measure, reason, now }) =>
        now > 0 ? (
          <Link
            className="link"
            href={resultsHref('/results/people', look, { what: measure, reason: reason ?? undefined })}
          >
            {count(now)}
          </Link>
        ) : (
          count(now)
        ),
    },
    { title: 'Share', kind: 'number', cell: (row) => <Share row={row} side="now" /> },
    {
      title: 'Before',
      kind: 'number',
      cell: ({ before }) => <span className="text-soft">{count(before)}</span>,
    },
    { title: 'Share before', kind: 'number', cell: (row) => <Share row={row} side="before" /> },
    { title: 'Difference', cell: ({ reason, line }) => reason === null && <Difference line={line} /> },
    {
      title: 'Over time',
      cell: ({ reason, line }) => reason === null && <Bars series={line.series} periods={overview.periods} />,
    },
  ];
  return (
    <ListTable
      label="What happened"
      rows={rowsOf(overview.lines)}
      columns={columns}
      rowKey={({ key }) => key}
      empty="Nothing happened yet."
    />
  );
}

function Share({ row: { reason, line }, side }: { row: Row; side: 'now' | 'before' }) {
  const rate = line.rate?.[side];
  if (reason !== null || !rate || rate.share === null) return null;
  return (
    <span
      className={side === 'before' ? 'text-soft' : ''}
      title={`${count(rate.count)} of ${count(rate.of)}, ${MEASURE_WORDS[line.measure].of}; 95 % interval ${percent(rate.low)} to ${percent(rate.high)}`}
    >
      {percent(rate.share)}
    </span>
  );
}

const TREND_WORDS: Record<Exclude<Trend, null>, string> = { more: 'really more', fewer: 'really fewer' };

function Difference({ line: { trend, measure } }: { line: OverviewLine }) {
  if (trend === null) return null;
  const good = MEASURE_WORDS[measure].moreIsGood === (trend === 'more');
  return <Mark tone={good ? 'good' : 'bad'}>{TREND_WORDS[trend]}</Mark>;
}
