import { BROADCAST, counts, STATE, DELIVERED, REPLIED, OPTED_OUT } from '@/ui/sends/broadcast-columns';
import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { readSends } from '@/services/sends/screen';
import { ListTable } from '@/ui/kit/list-table';
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
        <>
          <Link href="/sends/items" className="button">
            What is on
          </Link>
          <Link href="/sends/templates" className="button">
            Templates
          </Link>
          <Link href="/sends/chat-templates" className="button">
            Chat templates
          </Link>
          <Link href="/sends/voice-messages" className="button">
            Voice messages
          </Link>
          <Link href="/sends/calendar" className="button">
            Calendar
          </Link>
          <Link href="/sends/new" className="button button-main">
            Write a broadcast
          </Link>
        </>
      }
    >
      <ListTable
        label="Sends"
        rows={data.rows}
        columns={[
          BROADCAST,
          { title: 'Program', cell: (row) => row.program },
          STATE,
          {
            title: 'When',
            kind: 'when',
            cell: (row) => {
              const when = row.begun_at ?? row.send_at;
              return when ? dayAndTime(when, zone) : '';
            },
          },
          counts('People', ({ people }) => people),
          DELIVERED,
          counts('Failed', ({ failed }) => failed),
          counts('Not sent', ({ blocked }) => blocked),
          REPLIED,
          OPTED_OUT,
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
