import { Link } from '@/ui/kit/link';
import { ListTable } from '@/ui/kit/list-table';
import type { FormState } from '@/ui/kit/form-state';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime, shortTime } from '@/ui/kit/time';

export interface StackLine {
  id: string;
  account_id: string | null;
  name: string;
  takes: number | null;
  key_ends_at: Date | null;
  ended_at: Date | null;
  heard_at: Date | null;
  created_at: Date;
  to_send: number;
  held: number;
  pressed: number;
  skipped: number;
  adapted: number;
  sent: number;
  replied: number;
  waiting: number;
  left: number;
  lately: number;
}

/** So long without a word from somebody who has people left is silence. */
const SILENT_MS = 10 * 60_000;

/** Each stack as it stands: what is left, what was pressed, what came of it, and since when it is silent. */
export function StackTable({
  rows,
  now,
  zone,
  act,
  read = null,
}: {
  rows: readonly StackLine[];
  now: number;
  zone: string;
  /** Null: whoever looks may not. */
  act: ((state: FormState, data: FormData) => Promise<FormState>) | null;
  /** Where a stack can be read along; null: nowhere. */
  read?: string | null;
}) {
  return (
    <ListTable
      label="Stacks"
      rows={rows}
      columns={[
        {
          title: 'Whose',
          cell: (row) => (
            <>
              {read ? (
                <Link href={`${read}/${row.id}`} className="link">
                  {row.name}
                </Link>
              ) : (
                row.name
              )}
              <span className="block text-sm text-soft">
                {row.account_id === null &&
                  row.key_ends_at &&
                  `by link, until ${dayAndTime(row.key_ends_at, zone)}`}
                {row.takes !== null && ` takes ${row.takes} at a time`}
              </span>
            </>
          ),
        },
        {
          title: 'Left to press',
          kind: 'number',
          cell: (row) => (
            <>
              {count(row.to_send)}
              {row.held > 0 && <span className="block text-sm text-soft">{count(row.held)} held</span>}
            </>
          ),
        },
        {
          title: 'Pressed',
          kind: 'number',
          cell: (row) => (
            <>
              {count(row.pressed)}
              {row.adapted > 0 && (
                <span className="block text-sm text-soft">{count(row.adapted)} in other words</span>
              )}
              {row.lately > 0 && (
                <span className="block text-sm text-soft">{(row.lately / 5).toFixed(1)} a minute</span>
              )}
            </>
          ),
        },
        { title: 'Passed over', kind: 'number', cell: (row) => count(row.skipped) },
        { title: 'Replied', kind: 'number', cell: (row) => count(row.replied) },
        { title: 'Wait', kind: 'number', cell: (row) => count(row.waiting) },
        { title: 'Opted out', kind: 'number', cell: (row) => count(row.left) },
        { title: 'Last heard', kind: 'when', cell: (row) => <Heard {...{ row, now, zone }} /> },
        ...(act
          ? [
              {
                title: 'What to do',
                kind: 'act' as const,
                quiet: true as const,
                cell: (row: StackLine) => <Acts {...{ row, rows, act }} />,
              },
            ]
          : []),
      ]}
      rowKey={(row) => row.id}
      empty="Nobody has a stack yet. Choose who presses, and split it."
    />
  );
}

function Heard({ row, now, zone }: { row: StackLine; now: number; zone: string }) {
  if (row.ended_at) return <Mark tone="plain">ended</Mark>;
  const quiet = now - (row.heard_at ?? row.created_at).getTime();
  const silent = row.to_send > row.held && quiet > SILENT_MS;
  const words = row.heard_at === null ? 'not yet' : shortTime(row.heard_at, now, zone);
  return silent ? <Mark tone="wait">silent, {words}</Mark> : words;
}

function Acts({
  row,
  rows,
  act,
}: {
  row: StackLine;
  rows: readonly StackLine[];
  act: (state: FormState, data: FormData) => Promise<FormState>;
}) {
  if (row.ended_at) return null;
  const others = rows.filter(({ id, ended_at: ended }) => id !== row.id && !ended);
  return (
    <details>
      <summary
        className="cursor-pointer whitespace-nowrap"
        aria-label={`More about the stack of ${row.name}`}
      >
        More …
      </summary>
      <div className="space-y-2 py-2 text-left">
        {row.to_send > 0 && others.length > 0 && (
          <PlainForm
            action={act}
            submit="Move what is left"
            hidden={{ stack: row.id, verb: 'move' }}
            fields={[
              {
                name: 'to',
                label: 'To',
                options: others.map(({ id, name }) => ({ value: id, label: name })),
              },
            ]}
          />
        )}
        {row.account_id === null && (
          <PlainForm
            action={act}
            submit="A new link, the old one ends"
            hidden={{ stack: row.id, verb: 'link' }}
          />
        )}
        <PlainForm
          action={act}
          submit="End it: the rest is nobody’s"
          hidden={{ stack: row.id, verb: 'end' }}
        />
      </div>
    </details>
  );
}
