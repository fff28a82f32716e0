import type { Metadata } from 'next';
import { displayNumber } from '@/core/phone/number';
import { readNumbers, type Standing } from '@/services/numbers/screen';
import { Mark } from '@/ui/kit/mark';
import { count, percent } from '@/ui/kit/numbers';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Page } from '@/ui/kit/page';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Numbers' };

export default async function NumbersPage({ searchParams }: { searchParams: Promise<{ sort?: string }> }) {
  const { sort } = await searchParams;
  const { data: senders } = await readScreen((scope, _, now) => readNumbers(scope, now));
  return (
    <Page
      title="Numbers"
      margin={
        <p className="text-soft">
          A number’s standing is its delivery against its own past eleven weeks. It is called dropped when the
          last week is clearly worse: five points, on at least fifty texts. Texts from a number that is not
          registered are held.
        </p>
      }
    >
      <ListTable
        label="Sender numbers"
        rows={senders}
        columns={COLUMNS}
        rowKey={({ id }) => id}
        empty="No sender number yet. The carrier gives you one; docs/operations.md says how to enter it."
        sort={sort}
        sortHref={(by) => `/numbers?sort=${by}`}
      />
    </Page>
  );
}

const COLUMNS: ListColumn<Standing>[] = [
  {
    title: 'Number',
    cell: ({ number, kind }) => (
      <span className="whitespace-nowrap">
        {displayNumber(number)} <span className="text-sm text-soft">{kind.replace('-', ' ')}</span>
      </span>
    ),
    by: ({ number }) => number,
  },
  {
    title: 'Registration',
    cell: (sender) => <Registered sender={sender} />,
    by: ({ registration }) => registration,
  },
  { title: 'Standing', cell: (sender) => <StandingMark sender={sender} /> },
  {
    title: 'Sent, 7 days',
    kind: 'number',
    cell: ({ sent_7: sent }) => count(sent),
    by: ({ sent_7: sent }) => sent,
  },
  {
    title: 'Delivered',
    kind: 'number',
    cell: ({ rateNow }) => percent(rateNow),
    by: ({ rateNow }) => rateNow,
  },
  {
    title: 'Blocked as spam',
    kind: 'number',
    cell: ({ blocked_7: blocked }) => count(blocked),
    by: ({ blocked_7: blocked }) => blocked,
  },
  { title: 'Parts/s', kind: 'number', cell: (sender) => count(sender.parts_per_second) },
  { title: 'Used by', cell: ({ programs }) => programs.join(', ') },
];

const Registered = ({ sender: { registration, registration_note: note } }: { sender: Standing }) => (
  <>
    <Mark tone={registration === 'registered' ? 'good' : registration === 'refused' ? 'bad' : 'wait'}>
      {registration.replace('-', ' ')}
    </Mark>
    {note && <div className="text-sm text-soft">{note}</div>}
  </>
);

function StandingMark({ sender }: { sender: Standing }) {
  if (sender.dropped) return <Mark tone="bad">dropped: was {percent(sender.rateBefore)}</Mark>;
  if (sender.rateNow === null) return <span className="text-soft">nothing sent</span>;
  return <Mark tone="good">as always</Mark>;
}
