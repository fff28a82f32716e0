import type { Metadata } from 'next';
import { cookies } from 'next/headers';
import { sessionsOf } from '@/services/access/sessions';
import { getContext } from '@/services/runtime';
import { ListTable } from '@/ui/kit/list-table';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { COOKIE, requireSession } from '../../../session';
import { endSessionAction } from './actions';

export const metadata: Metadata = { title: 'Your sign-in' };

/** Every browser somebody is signed in with; each can be ended by itself. */
export default async function SessionsPage() {
  const session = await requireSession();
  const token = (await cookies()).get(COOKIE)?.value ?? '';
  const rows = await sessionsOf(await getContext(), session.accountId, token);
  return (
    <Page title="Your sign-in">
      <Section title="Browsers" note="each is signed out by itself after fourteen days">
        <ListTable
          label="Browsers"
          rows={rows}
          columns={[
            {
              title: 'Browser',
              cell: ({ userAgent, own }) => (
                <span className="[overflow-wrap:anywhere]">
                  {userAgent || 'unknown'}
                  {own && <b>, this one</b>}
                </span>
              ),
            },
            {
              title: 'Since',
              kind: 'when',
              cell: ({ createdAt }) => dayAndTime(createdAt, session.workspaceZone),
            },
            { title: 'Business', cell: ({ workspace }) => workspace },
            {
              title: 'End',
              quiet: true,
              cell: ({ name, own }) =>
                !own && (
                  <PlainForm action={endSessionAction} submit="Sign it out" hidden={{ session: name }} />
                ),
            },
          ]}
          rowKey={({ name }) => name}
          empty="Nowhere."
        />
      </Section>
    </Page>
  );
}
