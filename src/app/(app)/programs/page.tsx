import { membersHref } from '@/ui/people/people-list';
import type { Metadata } from 'next';
import Link from 'next/link';
import { frequencyPhrase } from '@/core/text/wording';
import { readPrograms } from '@/services/programs/screen';
import { count } from '@/ui/kit/numbers';
import { Empty, Page } from '@/ui/kit/page';
import { readScreen } from '../../session';

export const metadata: Metadata = { title: 'Programs' };

export default async function ProgramsPage() {
  const { data: programs } = await readScreen((scope, _, now) => readPrograms(scope, now));
  return (
    <Page
      title="Programs"
      actions={
        <Link href="/programs/new" className="button button-main">
          Make a program
        </Link>
      }
      margin={
        <p className="text-soft">
          A program is what a person agrees to: its purpose, how often, its wording, its numbers. Everything
          sent belongs to one; consent is to a program.
        </p>
      }
    >
      {programs.length === 0 ? (
        <Empty>Make the first program, give it a keyword, and text that word from your own phone.</Empty>
      ) : (
        <div className="overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr>
                <th>Program</th>
                <th>Keywords</th>
                <th>Promise</th>
                <th className="n">members</th>
                <th className="n">in, 30 days</th>
                <th className="n">out, 30 days</th>
              </tr>
            </thead>
            <tbody>
              {programs.map((program) => (
                <tr key={program.id}>
                  <td>
                    <Link href={`/programs/${program.id}`} className="link">
                      {program.name}
                    </Link>{' '}
                    <span className="text-sm text-soft">{program.purpose}</span>
                  </td>
                  <td>
                    {program.keywords.length === 0 ? (
                      <span className="text-soft">none</span>
                    ) : (
                      program.keywords.map((word) => word.toUpperCase()).join(', ')
                    )}
                  </td>
                  <td className="whitespace-nowrap">
                    {frequencyPhrase(program.promise_count, program.promise_period)}
                  </td>
                  <td className="n">
                    <Link className="link" href={membersHref(program.id, 'in')}>
                      {count(program.members)}
                    </Link>
                  </td>
                  <td className="n">{count(program.joined_30)}</td>
                  <td className="n">{count(program.left_30)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Page>
  );
}
