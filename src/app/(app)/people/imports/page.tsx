import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { readImports } from '@/services/imports/screen';
import { ImportStateMark } from '@/ui/imports/import-state';
import { ListTable } from '@/ui/kit/list-table';
import { count } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
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
            textable. Where the file says who agreed and who left, that counts row by row.
          </p>
        </Section>
      }
    >
      <Upload />
      <Section title="Imports so far">
        <ListTable
          label="Imports"
          rows={data.rows}
          columns={[
            {
              title: 'Import',
              cell: (row) => (
                <span className="[overflow-wrap:anywhere]">
                  <Link className="link" href={`/people/imports/${row.id}`}>
                    {row.name}
                  </Link>
                </span>
              ),
            },
            { title: 'Rows', kind: 'number', cell: (row) => count(row.rows) },
            { title: 'Added', kind: 'number', cell: (row) => count(row.counts.add ?? 0) },
            { title: 'Updated', kind: 'number', cell: (row) => count(row.counts.update ?? 0) },
            { title: 'State', cell: (row) => <ImportStateMark state={row.state} /> },
            { title: 'By', cell: (row) => row.by ?? 'API' },
            { title: 'When', kind: 'when', cell: (row) => dayAndTime(row.created_at, session.workspaceZone) },
          ]}
          rowKey={(row) => row.id}
          older={data.next && `/people/imports?before=${data.next}`}
          empty="Nothing was imported yet."
        />
      </Section>
    </Page>
  );
}
