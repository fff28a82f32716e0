import { Link } from '@/ui/kit/link';
import { ListTable } from '@/ui/kit/list-table';
import { shortTime } from '@/ui/kit/time';
import { personName } from '@/ui/people/people-list';

export interface FoundRow {
  id: string;
  first_name: string | null;
  last_name: string | null;
  address: string | null;
  words: string;
  at: Date;
  by: 'them' | 'us' | 'note';
}

const BY: Record<FoundRow['by'], string> = { them: 'they wrote', us: 'you answered', note: 'a note' };

/** Threads in which words stand, each with the newest place. */
export function FoundThreads({
  rows,
  words,
  now,
  zone,
}: {
  rows: readonly FoundRow[];
  words: string;
  now: number;
  zone: string;
}) {
  return (
    <ListTable
      label="Threads found"
      rows={rows}
      columns={[
        { title: 'When', kind: 'when', cell: (row) => shortTime(row.at, now, zone) },
        {
          title: 'Person',
          cell: (row) => (
            <Link href={`/inbox/${row.id}`} className="link">
              {personName(row)}
            </Link>
          ),
        },
        { title: 'By', cell: (row) => <span className="text-soft">{BY[row.by]}</span> },
        {
          title: 'Words',
          cell: (row) => <span className="line-clamp-2 [overflow-wrap:anywhere]">{row.words}</span>,
        },
      ]}
      rowKey={(row) => row.id}
      empty={`Nobody wrote “${words}”, no answer and no note says it. Whole words are found; a minus leaves one out, quotes keep them together.`}
    />
  );
}
