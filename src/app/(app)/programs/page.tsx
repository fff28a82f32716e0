import { membersHref } from '@/ui/people/people-list';
import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { frequencyPhrase } from '@/core/text/wording';
import { readPrograms } from '@/services/programs/screen';
import { ListTable } from '@/ui/kit/list-table';
import { count } from '@/ui/kit/numbers';
import { Page } from '@/ui/kit/page';
import { CountedAt } from '@/ui/programs/counted-at';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Programs' };

export default async function ProgramsPage({ searchParams }: { searchParams: Promise<{ sort?: string }> }) {
  const { sort } = await searchParams;
  const { data, session } = await readScreen((scope, _, now) => readPrograms(scope, now));
  const { programs, countedAt } = data;
  return (
    <Page
      title="Programs"
      actions={
        <>
          <Link href="/programs/sequences" className="button">
            Sequences
          </Link>
          <Link href="/programs/inquiries" className="button">
            Inquiries
          </Link>
          <Link href="/programs/forms" className="button">
            Forms
          </Link>
          <Link href="/programs/offers" className="button">
            Offers
          </Link>
          <Link href="/programs/new" className="button button-main">
            Make a program
          </Link>
        </>
      }
      margin={
        <>
          <p className="text-soft">
            A program is what a person agrees to: its purpose, how often, its wording, its numbers. Everything
            sent belongs to one; consent is to a program.
          </p>
          <CountedAt at={countedAt} zone={session.workspaceZone} />
        </>
      }
    >
      <ListTable
        label="Programs"
        rows={programs}
        columns={[
          {
            title: 'Program',
            cell: (program) => (
              <>
                <Link href={`/programs/${program.id}`} className="link">
                  {program.name}
                </Link>{' '}
                <span className="text-sm text-soft">{program.purpose}</span>
              </>
            ),
            by: (program) => program.name,
          },
          {
            title: 'Keywords',
            cell: (program) =>
              program.keywords.length === 0 ? (
                <span className="text-soft">none</span>
              ) : (
                program.keywords.map((word) => word.toUpperCase()).join(', ')
              ),
          },
          {
            title: 'Promise',
            cell: (program) => frequencyPhrase(program.promise_count, program.promise_period),
          },
          {
            title: 'Members',
            kind: 'number',
            cell: (program) => (
              <Link className="link" href={membersHref(program.id, 'in')}>
                {count(program.members)}
              </Link>
            ),
            by: (program) => program.members,
          },
          {
            title: 'In, 30 days',
            kind: 'number',
            cell: (program) => count(program.joined30),
            by: (program) => program.joined30,
          },
          {
            title: 'Out, 30 days',
            kind: 'number',
            cell: (program) => count(program.left30),
            by: (program) => program.left30,
          },
        ]}
        rowKey={(program) => program.id}
        sort={sort}
        sortHref={(by) => `/programs?sort=${by}`}
        empty="Make the first program, give it a keyword, and text that word from your own phone."
      />
    </Page>
  );
}
