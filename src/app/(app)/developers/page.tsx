import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { readKeys } from '@/services/access/screen';
import { readEndpoints, type EndpointRow } from '@/services/webhooks/screen';
import { KeyForm, RevokeKey } from '@/ui/access/key-forms';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { WebhookForm } from '@/ui/webhooks/webhook-form';
import { EndpointMark } from '@/ui/webhooks/webhook-marks';
import { readScreen } from '../../session';
import { createKeyAction, revokeKeyAction } from './actions';
import { createWebhookAction } from './webhooks/actions';

export const metadata: Metadata = { title: 'Developers' };

export default async function DevelopersPage() {
  const { data, session } = await readScreen(async (scope, _, now) => ({
    keys: await readKeys(scope),
    endpoints: await readEndpoints(scope, now),
  }));
  const manages = may(session.role, 'manage-keys');
  return (
    <Page
      title="Developers"
      margin={
        <Section title="The API">
          <p className="text-soft">
            Everything the screens do can be done over HTTP. The description, in OpenAPI 3.1:{' '}
            {/* oxlint-disable-next-line nextjs/no-html-link-for-pages -- a document, not a page */}
            <a href="/api/v1/openapi.json">/api/v1/openapi.json</a>. Send the key as “Authorization: Bearer
            …”.
          </p>
          <p className="mt-2 text-soft">
            Webhooks tell another system what happens to people, within a second or two. What does not arrive
            is tried again for three days.
          </p>
        </Section>
      }
    >
      <Section title="API keys">
        <ListTable
          label="API keys"
          rows={data.keys}
          columns={keyColumns(session.workspaceZone, manages)}
          rowKey={({ id }) => id}
          empty="No key yet."
        />
        {manages && (
          <div className="mt-4 max-w-sm">
            <KeyForm action={createKeyAction} />
          </div>
        )}
      </Section>
      <Section title="Webhooks">
        <ListTable
          label="Webhooks"
          rows={data.endpoints}
          columns={endpointColumns(session.workspaceZone)}
          rowKey={({ endpoint }) => endpoint.id}
          empty="No address is told anything yet. Add one below; a test shows whether it arrives."
        />
        {manages && (
          <div className="mt-4 max-w-2xl">
            <WebhookForm action={createWebhookAction} submit="Add the address" />
          </div>
        )}
      </Section>
    </Page>
  );
}

type Key = Awaited<ReturnType<typeof readKeys>>[number];

const keyColumns = (zone: string, manages: boolean): ListColumn<Key>[] => [
  {
    title: 'Name',
    cell: ({ id, name }) => (
      <Link className="link" href={`/developers/keys/${id}`}>
        {name}
      </Link>
    ),
  },
  {
    title: 'May',
    cell: ({ scopes }) => (scopes === null ? 'everything' : scopes.join(', ').replaceAll('-', ' ')),
  },
  { title: 'Ends in', cell: ({ hint }) => `…${hint}` },
  { title: 'Made', kind: 'when', cell: ({ createdAt }) => dayAndTime(createdAt, zone) },
  {
    title: 'Last used',
    kind: 'when',
    cell: ({ lastUsedAt }) => (lastUsedAt ? dayAndTime(lastUsedAt, zone) : 'never'),
  },
  {
    title: 'State',
    cell: ({ revokedAt }) => (revokedAt ? <Mark tone="bad">revoked</Mark> : <Mark tone="good">works</Mark>),
  },
  {
    title: 'Revoke',
    quiet: true,
    cell: ({ id, revokedAt }) => manages && !revokedAt && <RevokeKey action={revokeKeyAction} keyId={id} />,
  },
];

const endpointColumns = (zone: string): ListColumn<EndpointRow>[] => [
  {
    title: 'Address',
    cell: ({ endpoint }) => (
      <Link className="link [overflow-wrap:anywhere]" href={`/developers/webhooks/${endpoint.id}`}>
        {endpoint.note || endpoint.url}
      </Link>
    ),
  },
  { title: 'Follows', kind: 'number', cell: ({ endpoint }) => `${endpoint.kinds.length} kinds` },
  { title: 'Arrived in 7 days', kind: 'number', cell: ({ counts }) => count(counts?.arrived ?? 0) },
  { title: 'Wait', kind: 'number', cell: ({ counts }) => count(counts?.waiting ?? 0) },
  {
    title: 'Set aside',
    kind: 'number',
    cell: ({ counts }) => (counts?.aside ? <Mark tone="bad">{count(counts.aside)}</Mark> : count(0)),
  },
  {
    title: 'Last arrived',
    kind: 'when',
    cell: ({ counts }) => (counts?.last_at ? dayAndTime(counts.last_at, zone) : 'never'),
  },
  { title: 'State', cell: ({ endpoint }) => <EndpointMark state={endpoint.state} /> },
];
