import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { SCOPE_WORDS, isScope } from '@/core/access/scopes';
import { callsOfKey } from '@/services/access/api-keys';
import { readKeys } from '@/services/access/screen';
import { ListTable } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { Facts, Page, Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../session';

export const metadata: Metadata = { title: 'API key' };

const MOST = 200;

/** What a key may do, and what it did. */
export default async function KeyPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen(async (scope) => ({
    key: (await readKeys(scope)).find((one) => one.id === id) ?? null,
    calls: await callsOfKey(scope, id, MOST),
  }));
  const { key, calls } = data;
  if (!key) notFound();
  const zone = session.workspaceZone;
  return (
    <Page
      title={key.name}
      margin={
        <Section title="The key">
          <Facts
            rows={[
              ['ends in', `…${key.hint}`],
              ['made', dayAndTime(key.createdAt, zone)],
              ['last used', key.lastUsedAt ? dayAndTime(key.lastUsedAt, zone) : 'never'],
              ['state', key.revokedAt ? 'revoked' : 'works'],
            ]}
          />
          <p className="mt-3 text-soft">It may</p>
          <ul>
            {(key.scopes ?? ['everything']).map((scope) => (
              <li key={scope}>{isScope(scope) ? SCOPE_WORDS[scope] : scope}</li>
            ))}
          </ul>
          <p className="mt-3">
            <Link className="link" href={`/settings/audit?actor=${encodeURIComponent(`key:${key.name}`)}`}>
              what it changed
            </Link>
          </p>
        </Section>
      }
    >
      <Section title="What it asked for" note="kept for thirty days">
        <ListTable
          label="What it asked for"
          rows={calls}
          columns={[
            { title: 'When', kind: 'when', cell: ({ at }) => dayAndTime(at, zone) },
            { title: 'What', cell: ({ method, path }) => <code>{`${method} ${path}`}</code> },
            {
              title: 'Answered',
              cell: ({ status }) => <Mark tone={status < 400 ? 'good' : 'bad'}>{String(status)}</Mark>,
            },
            { title: 'Took', kind: 'number', cell: ({ ms }) => `${count(ms)} ms` },
            { title: 'Request', quiet: true, cell: ({ request }) => request },
          ]}
          rowKey={({ seq }) => String(seq)}
          empty="It was not used in the last thirty days."
        />
        {calls.length === MOST && <p className="mt-2 text-soft">The last {MOST}.</p>}
      </Section>
    </Page>
  );
}
