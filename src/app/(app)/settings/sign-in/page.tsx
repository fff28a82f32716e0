import type { Metadata } from 'next';
import { cookies } from 'next/headers';
import { may } from '@/core/access/roles';
import { readWorkspace } from '@/services/access/screen';
import { readFactor } from '@/services/access/second-factor';
import { sessionsOf } from '@/services/access/sessions';
import { withWorkspace } from '@/services/runtime';
import { SecondFactor } from '@/ui/access/second-factor';
import {
  beginFactorAction,
  confirmFactorAction,
  dropFactorAction,
  ownersNeedFactorAction,
  renewCodesAction,
} from '../../../second-factor/actions';
import { getContext } from '@/services/runtime';
import { ListTable } from '@/ui/kit/list-table';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { browserName } from '@/ui/settings/browser-name';
import { dayAndTime } from '@/ui/kit/time';
import { COOKIE, requireSession } from '../../../session';
import { endSessionAction } from './actions';

export const metadata: Metadata = { title: 'Your sign-in' };

/** Every browser somebody is signed in with; each can be ended by itself. */
export default async function SessionsPage() {
  const session = await requireSession();
  const token = (await cookies()).get(COOKIE)?.value ?? '';
  const ctx = await getContext();
  const rows = await sessionsOf(ctx, session.accountId, token);
  const factor = await readFactor(ctx, session.accountId);
  const workspace = await withWorkspace(session.workspaceId, readWorkspace);
  return (
    <Page title="Your sign-in">
      <Section title="Second factor">
        <SecondFactor
          since={factor.since?.getTime() ?? null}
          codesLeft={factor.codesLeft}
          zone={session.workspaceZone}
          acts={{
            begin: beginFactorAction,
            confirm: confirmFactorAction,
            renew: renewCodesAction,
            drop: dropFactorAction,
          }}
        />
        {may(session.role, 'manage-team') && (
          <div className="mt-4 border-t border-rule pt-3">
            <p className="mb-2">
              {workspace.ownersNeedFactor
                ? 'Owners of this business have to have one.'
                : 'Owners of this business may sign in without one.'}
            </p>
            <PlainForm
              action={ownersNeedFactorAction}
              submit={workspace.ownersNeedFactor ? 'Leave it to each owner' : 'Ask it of every owner'}
              hidden={{ need: workspace.ownersNeedFactor ? 'no' : 'yes' }}
            />
          </div>
        )}
      </Section>
      <Section title="Browsers" note="each is signed out by itself after fourteen days">
        <ListTable
          label="Browsers"
          rows={rows}
          columns={[
            {
              title: 'Browser',
              cell: ({ userAgent, own }) => (
                <span className="[overflow-wrap:anywhere]" title={userAgent}>
                  {browserName(userAgent)}
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
