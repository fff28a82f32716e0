import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { readCallDesk } from '@/services/calls/screen';
import { CallDesk } from '@/ui/calls/call-desk';
import { Page } from '@/ui/kit/page';
import { readable } from '@/ui/sends/readable';
import { readScreen } from '../../../session';
import { recordCallAction, settleCallsAction } from './actions';

export const metadata: Metadata = { title: 'Calls' };

export default async function CallsPage() {
  const { data, session, now } = await readScreen((scope, signedIn, at) =>
    readCallDesk(scope, signedIn.accountId, at),
  );
  return (
    <Page
      title="Calls"
      actions={
        <Link href="/inbox/calls/outcomes" className="button">
          What a call can come to
        </Link>
      }
    >
      <CallDesk
        next={data.next.map((row) => ({
          ...{ personId: row.person_id, name: row.name, address: row.address, number: row.number },
          ...{ senderId: row.sender_id, why: row.why, since: row.since, calls: row.calls, words: row.words },
        }))}
        outcomes={data.outcomes.map(({ id, name, body, sequence }) => ({
          ...{ id, name },
          follows: body ? `then a text: ${readable(body)}` : sequence ? 'then a sequence begins' : null,
        }))}
        now={now}
        zone={session.workspaceZone}
        record={recordCallAction}
        settle={settleCallsAction}
      />
    </Page>
  );
}
