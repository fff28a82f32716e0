import type { Metadata } from 'next';
import Link from 'next/link';
import { readImports } from '@/services/imports/screen';
import { ImportStateMark } from '@/ui/imports/import-state';
import { count } from '@/ui/kit/numbers';
import { Empty, Page, Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { Upload } from '@/ui/imports/upload';
import { readScreen } from '../../../session';

export const metadata: Metadata = { title: 'Imports' };

export default async function ImportsPage({ searchParams }: { searchParams: Promise<{ before?: string }> }) {
  const { before = '' } = await searchParams;
  const { data, session } = await readScreen((scope) => readImports(scope, before));
  return (
    <Page
      title="Import people"
      actions={
        <Link href="/people" className="button">
          People
        </Link>
      }
      margin={
        <Section title="What follows">
          <p className="mb-2 text-soft">
            First a trial run: what would be added, changed and left out, row by row. Nothing is written
            before you say so, and it can be undone.
          </p>
          <p className="text-soft">
            Nobody who opted out is turned back on. Without the words people agreed to, nobody becomes
            textable.
          </p>
        </Section>
      }
    >
      <Upload />
      <Section title="Imports so far">
        {data.rows.length === 0 ? (
          <Empty>Nothing was imported yet.</Empty>
        ) : (
          <table className="w-full">
            <thead>
              <tr>
                <th>Import</th>
                <th className="n">Rows</th>
                <th className="n">Added</th>
                <th className="n">Updated</th>
                <th>State</th>
                <th>By</th>
                <th>When</th>
              </tr>
            </thead>
            <tbody>
              {data.rows.map((row) => (
                <tr key={row.id}>
                  <td className="[overflow-wrap:anywhere]">
                    <Link className="link" href={`/people/imports/${row.id}`}>
                      {row.name}
                    </Link>
                  </td>
                  <td className="n">{count(row.rows)}</td>
                  <td className="n">{count(row.counts.add ?? 0)}</td>
                  <td className="n">{count(row.counts.update ?? 0)}</td>
                  <td>
                    <ImportStateMark state={row.state} />
                  </td>
                  <td>{row.by ?? 'API'}</td>
                  <td className="whitespace-nowrap text-soft">
                    {dayAndTime(row.created_at, session.workspaceZone)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {data.next && (
          <p className="mt-4">
            <Link className="button" href={`/people/imports?before=${data.next}`}>
              Older ones
            </Link>
          </p>
        )}
      </Section>
    </Page>
  );
}
