import { Link } from '@/ui/kit/link';
import { TEXT_STATE_WORDS, type TextState } from '@/core/delivery/lifecycle';
import { ListTable } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { personName } from '@/ui/people/people-list';
import { shortTime } from '@/ui/kit/time';

export interface PressedLine {
  person_id: string;
  first_name: string | null;
  last_name: string | null;
  address: string;
  body: string;
  adapted: boolean;
  state: TextState;
  pressed_at: Date;
  words: string | null;
  wrote_at: Date | null;
  waits: boolean;
  passed_on: boolean;
  answered_at: Date | null;
}

/** What was pressed in a stack: who wrote back first, then what was pressed last. */
export function PressedList({
  rows,
  now,
  zone,
}: {
  rows: readonly PressedLine[];
  now: number;
  zone: string;
}) {
  return (
    <ListTable
      label="Pressed in this stack"
      rows={rows}
      columns={[
        {
          title: 'Who',
          cell: (row) => (
            <Link href={`/inbox/${row.person_id}`} className="link">
              {personName(row)}
            </Link>
          ),
        },
        { title: 'Pressed', kind: 'when', cell: (row) => shortTime(row.pressed_at, now, zone) },
        {
          title: 'The text',
          cell: (row) => (
            <>
              {TEXT_STATE_WORDS[row.state].word}
              {row.adapted && (
                <span className="block text-sm text-soft [overflow-wrap:anywhere]">
                  in other words: {row.body}
                </span>
              )}
            </>
          ),
        },
        {
          title: 'What they wrote',
          cell: (row) =>
            row.words === null ? (
              <span className="text-soft">nothing yet</span>
            ) : (
              <span className="[overflow-wrap:anywhere]">{row.words}</span>
            ),
        },
        { title: 'And then', cell: (row) => <Then row={row} now={now} zone={zone} /> },
      ]}
      rowKey={(row) => row.person_id}
      empty="Nothing was pressed here yet."
    />
  );
}

function Then({ row, now, zone }: { row: PressedLine; now: number; zone: string }) {
  if (row.passed_on) return <Mark tone="wait">asked for somebody else</Mark>;
  if (row.waits && row.wrote_at)
    return <Mark tone="wait">waits since {shortTime(row.wrote_at, now, zone)}</Mark>;
  return row.answered_at ? `answered ${shortTime(row.answered_at, now, zone)}` : null;
}
