import type { Metadata } from 'next';
import Link from 'next/link';
import { readSends } from '@/services/sends/screen';
import { BroadcastMark } from '@/ui/sends/broadcast-state';
import { ListTable } from '@/ui/kit/list-table';
import { count, percent } from '@/ui/kit/numbers';
import { Page } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Sends' };

export default async function SendsPage({ searchParams }: { searchParams: Promise<{ before?: string }> }) {
  const { before = '' } = await searchParams;
  const { data, session } = await readScreen((scope) => readSends(scope, before, 40));
  const zone = session.workspaceZone;
  return (
    <Page
      title="Sends"
      actions={
        <Link href="/sends/new" className="button button-main">
          Write a broadcast
        </Link>
      }
    >
      <ListTable
        label="Sends"
        rows={data.rows}
        columns={[
          {
            title: 'Broadcast',
            cell: (row) => (
              <Link href={`/sends/${row.id}`} className="link">
                {row.name}
              </Link>
            ),
          },
          { title: 'Program', cell: (row) => row.program },
          { title: 'State', cell: (row) => <BroadcastMark state={row.state} /> },
          {
            title: 'When',
            kind: 'when',
            cell: (row) => {
              const when = row.begun_at ?? row.send_at;
              return when ? dayAndTime(when, zone) : '';
            },
          },
          { title: 'People', kind: 'number', cell: (row) => count(row.result.people) },
          {
            title: 'Delivered',
            kind: 'number',
            cell: (row) => (
              <>
                {count(row.result.delivered)}{' '}
                <span className="text-soft">{percent(row.result.deliveryRate.share)}</span>
              </>
            ),
          },
          { title: 'Failed', kind: 'number', cell: (row) => count(row.result.failed) },
          { title: 'Not sent', kind: 'number', cell: (row) => count(row.result.blocked) },
          {
            title: 'Replied',
            kind: 'number',
            cell: (row) => (
              <>
                {count(row.result.replies)}{' '}
                <span className="text-soft">{percent(row.result.replyRate.share)}</span>
              </>
            ),
          },
          {
            title: 'Opted out',
            kind: 'number',
            cell: (row) => (
              <>
                {count(row.result.optOuts)}{' '}
                <span className="text-soft">{percent(row.result.optOutRate.share)}</span>
              </>
            ),
          },
        ]}
        rowKey={(row) => row.id}
        older={data.next && `/sends?before=${data.next}`}
        empty={
          <>
            Nothing was sent yet. <Link href="/sends/new">Write the first broadcast</Link>: you will see who
            gets it, who not and why, before it goes.
          </>
        }
      />
    </Page>
  );
}
