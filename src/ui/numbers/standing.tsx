import type { NumberStanding, Sign, SignLine } from '@/core/numbers/standing';
import { ListTable } from '@/ui/kit/list-table';
import { Mark, type Tone } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { RateLine } from '@/ui/results/result-lines';

const STATES: Record<NumberStanding['state'], { tone: Tone; words: string }> = {
  quiet: { tone: 'plain', words: 'nothing sent' },
  well: { tone: 'good', words: 'as always' },
  watch: { tone: 'wait', words: 'watch it' },
  unwell: { tone: 'bad', words: 'unwell' },
};

export const StandingMark = ({
  state,
  rests = false,
}: {
  state: NumberStanding['state'];
  rests?: boolean;
}) => (
  <>
    <Mark tone={STATES[state].tone}>{STATES[state].words}</Mark>
    {rests && (
      <>
        {' '}
        <Mark tone="wait">rests</Mark>
      </>
    )}
  </>
);

export const Registered = ({
  sender: { registration, registration_note: note },
}: {
  sender: { registration: string; registration_note: string | null };
}) => (
  <>
    <Mark tone={registration === 'registered' ? 'good' : registration === 'refused' ? 'bad' : 'wait'}>
      {registration.replace('-', ' ')}
    </Mark>
    {note && <div className="text-sm text-soft">{note}</div>}
  </>
);

const SIGN_WORDS: Record<Sign, string> = {
  delivered: 'delivered, of those with a receipt',
  blocked: 'refused as spam, of those with a receipt',
  answered: 'answered, of those delivered',
  lost: 'cost somebody, of those delivered',
};

/** Each sign of a number's standing, this week and before. */
export const StandingTable = ({ lines }: { lines: readonly SignLine[] }) => (
  <ListTable
    label="Standing"
    rows={lines}
    columns={[
      { title: 'What', cell: ({ sign }) => SIGN_WORDS[sign] },
      { title: 'Last 7 days', kind: 'number', cell: ({ now }) => `${count(now.count)} of ${count(now.of)}` },
      { title: 'Share', kind: 'number', cell: ({ now }) => <RateLine rate={now} /> },
      {
        title: '11 weeks before',
        kind: 'number',
        cell: ({ before }) => `${count(before.count)} of ${count(before.of)}`,
      },
      { title: 'Share before', kind: 'number', cell: ({ before }) => <RateLine rate={before} /> },
      {
        title: 'Difference',
        cell: ({ trend }) => trend && <Mark tone={trend === 'better' ? 'good' : 'bad'}>really {trend}</Mark>,
      },
    ]}
    rowKey={({ sign }) => sign}
    empty="Nothing was sent from it."
  />
);
