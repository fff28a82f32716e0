import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { readBatches } from '@/services/batches/screen';
import { BatchStateMark } from '@/ui/batches/batch-state';
import { ListTable } from '@/ui/kit/list-table';
import { count } from '@/ui/kit/numbers';
import { Page } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../session';

export const metadata: Metadata = { title: 'Batches' };

export default async function BatchesPage({ searchParams }: { searchParams: Promise<{ before?: string }> }) {
  const { before = '' } = await searchParams;
  const { data, session } = await readScreen((scope) => readBatches(scope, before));
  return (
    <Page
      title="Batches"
      actions={
        <Link href="/people" className="button">
          People
        </Link>
      }
    >
      <ListTable
        label="Batches"
        rows={data.rows}
        columns={[
          {
            title: 'Batch',
            cell: (row) => (
              <Link className="link" href={`/people/batches/${row.id}`}>
                {row.name}
              </Link>
            ),
          },
          { title: 'What', cell: (row) => row.words },
          { title: 'Done', kind: 'number', cell: (row) => count(row.cursor - row.failed) },
          { title: 'Of', kind: 'number', cell: (row) => count(row.total) },
          { title: 'Failed', kind: 'number', cell: (row) => count(row.failed) },
          { title: 'State', cell: (row) => <BatchStateMark state={row.state} /> },
          { title: 'By', cell: (row) => row.by ?? 'API' },
          { title: 'When', kind: 'when', cell: (row) => dayAndTime(row.start_at, session.workspaceZone) },
        ]}
        rowKey={(row) => row.id}
        older={data.next && `/people/batches?before=${data.next}`}
        empty={
          <>
            Nothing was done to many people at once yet. Choose some in <Link href="/people">People</Link>.
          </>
        }
      />
    </Page>
  );
}
