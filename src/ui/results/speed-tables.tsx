import { KINDS, type MessageKind } from '@/core/message/kinds';
import { DELAY_STEPS, type Delays } from '@/core/results/delays';
import { ListTable } from '@/ui/kit/list-table';
import { count, percent } from '@/ui/kit/numbers';
import { timeLeft } from '@/ui/kit/time';

interface Answered {
  key: string | null;
  name: string | null;
  answered: number;
  median: number;
  p95: number;
}

const took = (ms: number): string => (ms < 60_000 ? `${Math.round(ms / 1_000)} s` : timeLeft(ms));

/** Within how long they were answered. */
export function AnsweredTable({ of, rows, empty }: { of: string; rows: readonly Answered[]; empty: string }) {
  return (
    <ListTable
      label={`Answered, by ${of.toLowerCase()}`}
      rows={rows}
      columns={[
        { title: of, cell: ({ name }) => name ?? 'by a key or a rule' },
        { title: 'Answered', kind: 'number', cell: (row) => count(row.answered) },
        { title: 'Half within', kind: 'number', cell: ({ median }) => took(median) },
        { title: '95 of 100 within', kind: 'number', cell: ({ p95 }) => took(p95) },
      ]}
      rowKey={({ key }) => key ?? ''}
      empty={empty}
    />
  );
}

/** How long after each kind of message its answers came; what comes months later stands in a column of its own. */
export function DelayTable({ rows }: { rows: readonly Delays[] }) {
  return (
    <ListTable
      label="When people answer"
      rows={rows}
      columns={[
        { title: 'They answer', cell: ({ kind }) => KINDS[kind as MessageKind]?.words ?? kind },
        { title: 'Answers', kind: 'number', cell: ({ all }) => count(all) },
        ...DELAY_STEPS.map(({ name }, i) => ({
          title: name,
          kind: 'number' as const,
          cell: ({ steps, all }: Delays) => (
            <span title={percent(steps[i]! / all)} className={steps[i] === 0 ? 'text-soft' : ''}>
              {count(steps[i]!)}
            </span>
          ),
        })),
      ]}
      rowKey={({ kind }) => kind}
      empty="Nobody answered in these days."
    />
  );
}
