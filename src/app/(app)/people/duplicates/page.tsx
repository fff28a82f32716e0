import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { displayNumber } from '@/core/phone/number';
import { readDuplicates } from '@/services/people/duplicates';
import { PlainForm } from '@/ui/kit/plain-form';
import { ListTable } from '@/ui/kit/list-table';
import { plural } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../session';
import { dismissAction, searchAction } from './actions';

export const metadata: Metadata = { title: 'Duplicates' };

export default async function DuplicatesPage() {
  const { data, session } = await readScreen((scope) => readDuplicates(scope));
  const { pairs, search } = data;
  const running = search?.state === 'running';
  const mayEdit = may(session.role, 'edit-people');
  return (
    <Page
      title="Duplicates"
      actions={
        <>
          <Link href="/people" className="button">
            People
          </Link>
          {mayEdit && !running && (
            <PlainForm action={searchAction} submit={search ? 'Look again' : 'Look for duplicates'} main />
          )}
        </>
      }
      margin={
        <Section title="What counts">
          <p className="text-soft">
            The same number in other dress, the same e-mail, or names alike with the same postal code. Nothing
            is merged by itself; consent merges to the stricter, and a merge can be undone.
          </p>
        </Section>
      }
    >
      <p className="mb-4 text-soft" role="status">
        {running
          ? 'Looking through everybody …'
          : search?.finished_at
            ? `${plural(search.pairs, 'pair')} found, ${dayAndTime(search.finished_at, session.workspaceZone)}.`
            : 'Nobody has looked yet.'}
      </p>
      <ListTable
        label="Pairs"
        rows={pairs}
        columns={[
          {
            title: 'One',
            cell: (pair) => (
              <>
                <Link className="link" href={`/people/${pair.one_id}`}>
                  {pair.one_name}
                </Link>{' '}
                <span className="whitespace-nowrap text-soft">{displayNumber(pair.one_address)}</span>
              </>
            ),
          },
          {
            title: 'Other',
            cell: (pair) => (
              <>
                <Link className="link" href={`/people/${pair.other_id}`}>
                  {pair.other_name}
                </Link>{' '}
                <span className="whitespace-nowrap text-soft">{displayNumber(pair.other_address)}</span>
              </>
            ),
          },
          { title: 'Alike in', cell: (pair) => pair.reasons.join(', ') },
          {
            title: 'What to do',
            quiet: true,
            cell: (pair) =>
              mayEdit && (
                <div className="flex justify-end gap-2">
                  <Link className="button" href={`/people/duplicates/${pair.one_id}/${pair.other_id}`}>
                    Compare
                  </Link>
                  <PlainForm
                    action={dismissAction}
                    submit="Not the same"
                    hidden={{ one: pair.one_id, other: pair.other_id }}
                  />
                </div>
              ),
          },
        ]}
        rowKey={(pair) => `${pair.one_id} ${pair.other_id}`}
        empty={
          search && !running
            ? 'No two people look like one.'
            : 'Pairs will stand here once somebody has looked.'
        }
      />
    </Page>
  );
}
