import type { Metadata } from 'next';
import Link from 'next/link';
import { readBatches } from '@/services/batches/screen';
import { BatchStateMark } from '@/ui/batches/batch-state';
import { count } from '@/ui/kit/numbers';
import { Empty, Page } from '@/ui/kit/page';
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
      {data.rows.length === 0 ? (
        <Empty>
          Nothing was done to many people at once yet. Choose some in <Link href="/people">People</Link>.
        </Empty>
      ) : (
        <div className="overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr>
                <th>Batch</th>
                <th>What</th>
                <th className="n">Done</th>
                <th className="n">Of</th>
                <th className="n">Failed</th>
                <th>State</th>
                <th>By</th>
                <th>When</th>
              </tr>
            </thead>
            <tbody>
              {data.rows.map((row) => (
                <tr key={row.id}>
                  <td>
                    <Link className="link" href={`/people/batches/${row.id}`}>
                      {row.name}
                    </Link>
                  </td>
                  <td>{row.words}</td>
                  <td className="n">{count(row.cursor - row.failed)}</td>
                  <td className="n">{count(row.total)}</td>
                  <td className="n">{count(row.failed)}</td>
                  <td>
                    <BatchStateMark state={row.state} />
                  </td>
                  <td>{row.by ?? 'API'}</td>
                  <td className="whitespace-nowrap text-soft">
                    {dayAndTime(row.start_at, session.workspaceZone)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {data.next && (
        <p className="mt-4">
          <Link className="button" href={`/people/batches?before=${data.next}`}>
            Older ones
          </Link>
        </p>
      )}
    </Page>
  );
}
