import type { Metadata } from 'next';
import Link from 'next/link';
import { readThreads } from '@/services/inbox/screen';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { Empty, Page } from '@/ui/kit/page';
import { personName } from '@/ui/people/people-list';
import { shortTime } from '@/ui/kit/time';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Inbox' };

export default async function InboxPage() {
  const { data: threads, session, now } = await readScreen((scope) => readThreads(scope));
  return (
    <Page
      title="Inbox"
      margin={
        <p className="text-soft">
          {threads.length === 0
            ? 'Nobody waits.'
            : `${plural(threads.length, 'person waits', 'people wait')}. Replies that may be opt-outs stand first: nothing automatic goes to those people until you have decided.`}
        </p>
      }
    >
      {threads.length === 0 ? (
        <Empty>Every reply is answered. New ones appear here by themselves.</Empty>
      ) : (
        <div className="overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr>
                <th>Waits since</th>
                <th>Person</th>
                <th>Last words</th>
                <th>Look at</th>
              </tr>
            </thead>
            <tbody>
              {threads.map((thread) => (
                <tr key={thread.id}>
                  <td className="whitespace-nowrap text-soft">
                    {shortTime(thread.waiting_since, now, session.workspaceZone)}
                  </td>
                  <td>
                    <Link href={`/inbox/${thread.id}`} className="link">
                      {personName(thread)}
                    </Link>
                  </td>
                  <td className="[overflow-wrap:anywhere]">{thread.body}</td>
                  <td>
                    {thread.unclear_since ? (
                      <Mark tone="wait">may be an opt-out</Mark>
                    ) : thread.near_keyword ? (
                      <Mark tone="wait">nearly {thread.near_keyword.toUpperCase()}</Mark>
                    ) : (
                      <Mark tone="plain">reply</Mark>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Page>
  );
}
