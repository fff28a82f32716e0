import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { readSequences } from '@/services/sequences/screen';
import { ListTable } from '@/ui/kit/list-table';
import { count } from '@/ui/kit/numbers';
import { Page } from '@/ui/kit/page';
import { SequenceState } from '@/ui/sequences/sequence-state';
import { readScreen } from '../../../session';

export const metadata: Metadata = { title: 'Sequences' };

export default async function SequencesPage({ searchParams }: { searchParams: Promise<{ sort?: string }> }) {
  const { sort } = await searchParams;
  const { data: sequences } = await readScreen((scope, _, now) => readSequences(scope, now));
  return (
    <Page
      title="Sequences"
      actions={
        <Link href="/programs/sequences/new" className="button button-main">
          New sequence
        </Link>
      }
      margin={
        <p className="text-soft">
          A sequence says what happens next for a person, and when: somebody joins, is tagged, asks or has a
          date, and the right things follow over minutes, days and months, until they answer.
        </p>
      }
    >
      <ListTable
        label="Sequences"
        rows={sequences}
        rowKey={({ id }) => id}
        sort={sort}
        sortHref={(by) => `/programs/sequences?sort=${by}`}
        columns={[
          {
            title: 'Sequence',
            cell: ({ id, name, program }) => (
              <>
                <Link href={`/programs/sequences/${id}`} className="link">
                  {name}
                </Link>{' '}
                <span className="text-sm text-soft">{program}</span>
              </>
            ),
            by: ({ name }) => name,
          },
          { title: 'State', cell: ({ state, in_grace }) => <SequenceState state={state} grace={in_grace} /> },
          {
            title: 'In it now',
            kind: 'number',
            cell: ({ id, open }) => (
              <Link className="link" href={`/programs/sequences/${id}/people`}>
                {count(open)}
              </Link>
            ),
            by: ({ open }) => open,
          },
          {
            title: 'Came in, 7 days',
            kind: 'number',
            cell: ({ began_7 }) => count(began_7),
            by: ({ began_7 }) => began_7,
          },
          {
            title: 'Through or out',
            kind: 'number',
            cell: ({ ended }) => count(ended),
            by: ({ ended }) => ended,
          },
          {
            title: 'Replied',
            kind: 'number',
            cell: ({ replied }) => count(replied),
            by: ({ replied }) => replied,
          },
        ]}
        empty="Begin with a ready-made one: it is a draft until you publish it, and you can rehearse it first."
      />
    </Page>
  );
}
