import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { readPeopleScreen } from '@/services/people/people-screen';
import { Page } from '@/ui/kit/page';
import { PeopleDesk } from '@/ui/people/people-desk';
import { plural } from '@/ui/kit/numbers';
import { readScreen } from '../../session';
import { startBatch } from './batch-actions';
import { changeSegmentAction, saveColumnsAction, saveSegmentAction } from './segment-actions';

export const metadata: Metadata = { title: 'People' };

type Search = { cut?: string; segment?: string; q?: string; sort?: string };

export default async function PeoplePage({ searchParams }: { searchParams: Promise<Search> }) {
  const { cut = '', segment = '', q = '', sort = '' } = await searchParams;
  const { data, session, now } = await readScreen((scope, signedIn, at) =>
    readPeopleScreen(scope, signedIn.accountId, at, { cut, segment, search: q, sort }),
  );
  const mayEdit = may(session.role, 'edit-people');
  return (
    <Page
      title="People"
      actions={
        mayEdit && (
          <>
            {data.running > 0 && (
              <Link href="/people/batches" className="button">
                {plural(data.running, 'thing')} under way
              </Link>
            )}
            <Link href="/people/fields" className="button">
              Fields
            </Link>
            <Link href="/people/duplicates" className="button">
              Duplicates
            </Link>
            <Link href="/people/scan" className="button">
              Scan a card
            </Link>
            <Link href="/people/new" className="button">
              Add a person
            </Link>
            <Link href="/people/imports" className="button button-main">
              Import
            </Link>
          </>
        )
      }
    >
      <PeopleDesk
        askable={{ fields: data.fields, things: data.things }}
        segments={data.segments.map((one) => ({
          id: one.id,
          name: one.name,
          condition: one.condition,
          columns: one.columns,
          sort: one.sort,
          pinned: one.pinned,
          shared: one.shared,
          accounts: data.sharedWith.get(one.id) ?? [],
          ownerId: one.ownerId,
          version: one.version,
        }))}
        teammates={data.teammates}
        me={session.accountId}
        columns={data.columns}
        usual={data.usual}
        chosen={data.chosen}
        zone={session.workspaceZone}
        now={now}
        stamp={now}
        start={data.start}
        maySend={may(session.role, 'send')}
        mayEdit={mayEdit}
        acts={{
          save: saveSegmentAction,
          change: changeSegmentAction,
          saveColumns: saveColumnsAction,
          startBatch,
        }}
      />
    </Page>
  );
}
