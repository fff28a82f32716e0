import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { readAudit, readAuditCut } from '@/services/access/audit';
import { ListTable } from '@/ui/kit/list-table';
import { Empty, Page, Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { detailWords } from '@/ui/settings/audit-words';
import { readScreen } from '../../../session';

export const metadata: Metadata = { title: 'Audit' };

type Asked = Partial<Record<'actor' | 'action' | 'subject' | 'from' | 'to' | 'before', string>>;

/** Who did what to what, and when. */
export default async function AuditPage({ searchParams }: { searchParams: Promise<Asked> }) {
  const asked = await searchParams;
  const { data, session } = await readScreen(async (scope, signedIn) =>
    may(signedIn.role, 'manage-keys')
      ? readAudit(
          scope,
          readAuditCut(asked, signedIn.workspaceZone),
          /^\d{1,18}$/.test(asked.before ?? '') ? asked.before! : null,
        )
      : null,
  );
  if (!data)
    return (
      <Page title="Audit">
        <Empty>Owners and managers read it. Ask one of them.</Empty>
      </Page>
    );
  const { before: _, ...cut } = asked;
  const query = (more: object) =>
    new URLSearchParams({ ...cut, ...more } as Record<string, string>).toString();
  return (
    <Page
      title="Audit"
      actions={
        <a className="button" href={`/settings/audit/export?${query({})}`}>
          As a file (CSV)
        </a>
      }
    >
      <AuditFilter asked={asked} actors={data.actors} rooms={data.rooms} />
      <Section title="What was done">
        <ListTable
          label="What was done"
          rows={data.rows}
          columns={[
            { title: 'When', kind: 'when', cell: ({ at }) => dayAndTime(at, session.workspaceZone) },
            { title: 'Who', cell: ({ name, actor }) => name ?? actor.replace(/^key:/, 'the key ') },
            { title: 'Did', cell: ({ action }) => action.replaceAll('-', ' ').replace('.', ': ') },
            {
              title: 'To',
              cell: ({ subject }) => (
                <Link className="link" href={`/settings/audit?${query({ subject })}`}>
                  {data.names[subject] ?? subject}
                </Link>
              ),
            },
            {
              title: 'Detail',
              cell: ({ detail }) => (
                <span className="text-soft [overflow-wrap:anywhere]">
                  {detailWords(detail, session.workspaceZone, data.names)}
                </span>
              ),
            },
          ]}
          rowKey={({ id }) => id}
          empty="Nothing like that was done."
        />
        {data.next && (
          <p className="mt-2">
            <Link className="link" href={`/settings/audit?${query({ before: data.next })}`}>
              earlier
            </Link>
          </p>
        )}
      </Section>
    </Page>
  );
}

function AuditFilter({
  asked,
  actors,
  rooms,
}: {
  asked: Asked;
  actors: { actor: string; name: string | null }[];
  rooms: string[];
}) {
  return (
    <form className="mb-6 flex flex-wrap items-end gap-3" aria-label="What to show">
      <label className="text-sm text-soft">
        Who
        <select name="actor" defaultValue={asked.actor ?? ''} className="input mt-1 text-ink">
          <option value="">anybody</option>
          {actors.map(({ actor, name }) => (
            <option key={actor} value={actor}>
              {name ?? actor.replace(/^key:/, 'the key ')}
            </option>
          ))}
        </select>
      </label>
      <label className="text-sm text-soft">
        What
        <select name="action" defaultValue={asked.action ?? ''} className="input mt-1 text-ink">
          <option value="">anything</option>
          {rooms.map((room) => (
            <option key={room} value={`${room}.`}>
              {room.replaceAll('-', ' ')}
            </option>
          ))}
        </select>
      </label>
      <label className="text-sm text-soft">
        From
        <input type="date" name="from" defaultValue={asked.from ?? ''} className="input mt-1 text-ink" />
      </label>
      <label className="text-sm text-soft">
        To
        <input type="date" name="to" defaultValue={asked.to ?? ''} className="input mt-1 text-ink" />
      </label>
      {asked.subject && <input type="hidden" name="subject" value={asked.subject} />}
      <button className="button">Show</button>
      {Object.values(asked).some(Boolean) && (
        <Link className="link pb-2" href="/settings/audit">
          everything
        </Link>
      )}
    </form>
  );
}
