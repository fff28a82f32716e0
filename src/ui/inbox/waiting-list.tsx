import { Link } from '@/ui/kit/link';
import { nearness, WHY, type Box, type Nearness, type WaitsWhy } from '@/core/inbox/waiting';
import { CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import { ListTable } from '@/ui/kit/list-table';
import { Mark, type Tone } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { shortTime } from '@/ui/kit/time';
import { personName } from '@/ui/people/people-list';

export interface WaitingRow {
  id: string;
  first_name: string | null;
  last_name: string | null;
  address: string | null;
  why: WaitsWhy;
  since: Date;
  by_at: Date;
  account: string | null;
  channel: Channel | null;
  words: string | null;
  near_keyword: string | null;
  calls: number;
  later_until: Date | null;
  done_at: Date | null;
}

const TONES: Record<Nearness, Tone> = { 'in time': 'plain', near: 'wait', over: 'bad' };

const EMPTY: Record<Box, string> = {
  mine: 'Nobody of yours waits. What is nobody’s stands under “Nobody’s”.',
  nobody: 'Everybody who waits is somebody’s.',
  team: 'Every reply is answered. New ones appear here by themselves.',
  later: 'Nothing is put off. A thread that is comes back at its time, or at once when they write.',
  done: 'Nobody was answered in the last seven days.',
};

const WHEN: Record<Box, string> = {
  ...{ mine: 'Answer by', nobody: 'Answer by', team: 'Answer by', later: 'Back at', done: 'Done at' },
};

/** Who waits, why, until when, and whose they are. */
export function WaitingList({
  rows,
  box,
  now,
  zone,
}: {
  rows: readonly WaitingRow[];
  box: Box;
  now: number;
  zone: string;
}) {
  return (
    <ListTable
      label="People who wait"
      rows={rows}
      columns={[
        { title: WHEN[box], kind: 'when', cell: (row) => <When {...{ row, box, now, zone }} /> },
        {
          title: 'Person',
          cell: (row) => (
            <Link href={`/inbox/${row.id}`} className="link">
              {personName(row)}
            </Link>
          ),
        },
        { title: 'Why', cell: (row) => <WhyWaits row={row} box={box} /> },
        {
          title: 'Last words',
          cell: (row) => (
            <span className="line-clamp-2 [overflow-wrap:anywhere]">
              {row.channel && row.channel !== 'sms' && (
                <span className="text-soft">{CHANNEL_WORDS[row.channel].message}: </span>
              )}
              {row.words}
            </span>
          ),
        },
        { title: 'Whose', cell: (row) => row.account ?? <span className="text-soft">nobody’s</span> },
      ]}
      rowKey={(row) => row.id}
      empty={EMPTY[box]}
    />
  );
}

function When({ row, box, now, zone }: { row: WaitingRow; box: Box; now: number; zone: string }) {
  if (box === 'later' || box === 'done') return shortTime(row.by_at, now, zone);
  const near = nearness(row.by_at.getTime(), now);
  return (
    <Mark tone={TONES[near]}>
      {shortTime(row.by_at, now, zone)}
      {near === 'over' && <span className="sr-only"> is over</span>}
      <span className="block text-sm text-soft">since {shortTime(row.since, now, zone)}</span>
    </Mark>
  );
}

const PUT_OFF: Partial<Record<WaitsWhy, string>> = {
  later: 'put off',
  'no-answer': 'if they have not answered',
};

/** A word or two for why somebody waits, or stands in this box. */
export function WhyWaits({
  row: { why, near_keyword: near, calls },
  box = 'team',
}: {
  row: Pick<WaitingRow, 'why' | 'near_keyword' | 'calls'>;
  box?: Box;
}) {
  if (box === 'done') return null;
  if (box === 'later') return <span className="text-soft">{PUT_OFF[why]}</span>;
  const words =
    why === 'near-miss' && near
      ? `nearly ${near.toUpperCase()}`
      : why === 'missed-call' && calls > 1
        ? plural(calls, 'missed call')
        : WHY[why].word;
  return (
    <span title={WHY[why].means}>
      <Mark tone={WHY[why].share < 1 ? 'wait' : 'plain'}>{words}</Mark>
    </span>
  );
}
