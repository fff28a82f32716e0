import type { Metadata } from 'next';
import Link from 'next/link';
import { readSends } from '@/services/sends/screen';
import { BroadcastMark } from '@/ui/sends/broadcast-state';
import { count, percent } from '@/ui/kit/numbers';
import { Empty, Page } from '@/ui/kit/page';
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
      {data.rows.length === 0 ? (
        <Empty>
          Nothing was sent yet. <Link href="/sends/new">Write the first broadcast</Link>: you will see who
          gets it, who not and why, before it goes.
        </Empty>
      ) : (
        <div className="overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr>
                <th>Broadcast</th>
                <th>Program</th>
                <th>State</th>
                <th>When</th>
                <th className="n">people</th>
                <th className="n">delivered</th>
                <th className="n">failed</th>
                <th className="n">not sent</th>
                <th className="n">replied</th>
                <th className="n">opted out</th>
              </tr>
            </thead>
            <tbody>
              {data.rows.map((row) => {
                const when = row.begun_at ?? row.send_at;
                return (
                  <tr key={row.id}>
                    <td>
                      <Link href={`/sends/${row.id}`} className="link">
                        {row.name}
                      </Link>
                    </td>
                    <td>{row.program}</td>
                    <td>
                      <BroadcastMark state={row.state} />
                    </td>
                    <td className="whitespace-nowrap text-soft">{when ? dayAndTime(when, zone) : ''}</td>
                    <td className="n">{count(row.result.people)}</td>
                    <td className="n">
                      {count(row.result.delivered)}{' '}
                      <span className="text-soft">{percent(row.result.deliveryRate.share)}</span>
                    </td>
                    <td className="n">{count(row.result.failed)}</td>
                    <td className="n">{count(row.result.blocked)}</td>
                    <td className="n">
                      {count(row.result.replies)}{' '}
                      <span className="text-soft">{percent(row.result.replyRate.share)}</span>
                    </td>
                    <td className="n">
                      {count(row.result.optOuts)}{' '}
                      <span className="text-soft">{percent(row.result.optOutRate.share)}</span>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      )}
      {data.next && (
        <p className="mt-4">
          <Link className="button" href={`/sends?before=${data.next}`}>
            Older
          </Link>
        </p>
      )}
    </Page>
  );
}
