import type { Metadata } from 'next';
import Link from 'next/link';
import { countToCall } from '@/services/calls/screen';
import { readThreads } from '@/services/inbox/screen';
import { ListKeys } from '@/ui/inbox/list-keys';
import { ListTable } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { Page } from '@/ui/kit/page';
import { personName } from '@/ui/people/people-list';
import { shortTime } from '@/ui/kit/time';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Inbox' };

export default async function InboxPage() {
  const { data, session, now } = await readScreen(async (scope, _, at) => ({
    threads: await readThreads(scope),
    toCall: await countToCall(scope, at),
  }));
  const { threads, toCall } = data;
  return (
    <Page
      title="Inbox"
      actions={
        <Link href="/inbox/calls" className="button">
          {toCall === 0 ? 'Calls' : `${plural(toCall, 'person', 'people')} to call back`}
        </Link>
      }
      margin={
        <p className="text-soft">
          {threads.length === 0
            ? 'Nobody waits.'
            : `${plural(threads.length, 'person waits', 'people wait')}; j and k go through them. Replies that may be opt-outs stand first: nothing automatic goes to those people until you have decided.`}
        </p>
      }
    >
      <ListKeys label="People who wait" />
      <ListTable
        label="People who wait"
        rows={threads}
        columns={[
          {
            title: 'Waits since',
            kind: 'when',
            cell: (thread) => shortTime(thread.waiting_since, now, session.workspaceZone),
          },
          {
            title: 'Person',
            cell: (thread) => (
              <Link href={`/inbox/${thread.id}`} className="link">
                {personName(thread)}
              </Link>
            ),
          },
          {
            title: 'Last words',
            cell: (thread) => <span className="[overflow-wrap:anywhere]">{thread.body}</span>,
          },
          {
            title: 'Look at',
            cell: (thread) =>
              thread.unclear_since ? (
                <Mark tone="wait">may be an opt-out</Mark>
              ) : thread.near_keyword ? (
                <Mark tone="wait">nearly {thread.near_keyword.toUpperCase()}</Mark>
              ) : thread.meaning === 'inquiry' ? (
                <Mark tone="wait">inquired after opting out</Mark>
              ) : (
                <Mark tone="plain">reply</Mark>
              ),
          },
        ]}
        rowKey={(thread) => thread.id}
        empty="Every reply is answered. New ones appear here by themselves."
      />
    </Page>
  );
}
