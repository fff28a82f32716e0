import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { countToCall } from '@/services/calls/screen';
import { BOXES } from '@/core/inbox/waiting';
import { findThreads, readInbox, type InboxFilters } from '@/services/inbox/screen';
import { BoxLinks, boxHref, Narrowing, type InboxLook } from '@/ui/inbox/box-links';
import { FoundThreads } from '@/ui/inbox/found-threads';
import { ListKeys } from '@/ui/inbox/list-keys';
import { Speed } from '@/ui/inbox/speed';
import { WaitingList } from '@/ui/inbox/waiting-list';
import { plural } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Inbox' };

const FILTERS = ['program', 'channel', 'sender', 'source', 'why'] as const;

export default async function InboxPage({ searchParams }: { searchParams: Promise<Record<string, string>> }) {
  const params = await searchParams;
  const box = BOXES.find((one) => one === params.box) ?? 'team';
  const filters: InboxFilters = Object.fromEntries(
    FILTERS.flatMap((name) => (params[name] ? [[name, params[name]]] : [])),
  );
  const page = Math.min(1_000, Math.max(0, Math.trunc(Number(params.page)) || 0));
  const words = (params.q ?? '').trim();
  const { data, session, now } = await readScreen(async (scope, { accountId }, at) => ({
    inbox: await readInbox(scope, { box, filters, accountId, page, now: at }),
    found: words === '' ? null : await findThreads(scope, words),
    toCall: await countToCall(scope, at),
  }));
  const { inbox, found, toCall } = data;
  const zone = session.workspaceZone;
  const look: InboxLook = { box, filters, words };
  return (
    <Page
      title="Inbox"
      actions={
        <>
          <Link href="/inbox/replies" className="button">
            How soon
          </Link>
          <Link href="/inbox/calls" className="button">
            {toCall === 0 ? 'Calls' : `${plural(toCall, 'person', 'people')} to call back`}
          </Link>
        </>
      }
      margin={
        <>
          <p className="mb-4 text-soft">
            {inbox.counts.team === 0
              ? 'Nobody waits.'
              : `What may be an opt-out stands first, then whoever should be answered first: by when they began to wait, and by why. ${
                  inbox.counts.over === 0
                    ? 'Nobody waits too long.'
                    : `${plural(inbox.counts.over, 'person has', 'people have')} waited too long.`
                } j and k go through them.`}
          </p>
          <Narrowing look={look} {...inbox} />
          {inbox.speed.length > 0 && (
            <Section title="Answered in seven days">
              <Speed rows={inbox.speed} />
            </Section>
          )}
        </>
      }
    >
      <ListKeys label={found ? 'Threads found' : 'People who wait'} />
      <BoxLinks look={look} counts={inbox.counts} />
      {found ? (
        <FoundThreads rows={found} words={words} now={now} zone={zone} />
      ) : (
        <>
          <WaitingList rows={inbox.rows} box={box} now={now} zone={zone} />
          <nav aria-label="Pages" className="mt-3 flex gap-3">
            {page > 0 && (
              <Link className="button" href={boxHref(look, page - 1)}>
                Before
              </Link>
            )}
            {inbox.more && (
              <Link className="button" href={boxHref(look, page + 1)}>
                More
              </Link>
            )}
          </nav>
        </>
      )}
    </Page>
  );
}
