import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { getContext } from '@/services/runtime';
import { readTemplates, type TemplateLine } from '@/services/templates/templates';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { plural } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { RateLine } from '@/ui/results/result-lines';
import { readable } from '@/ui/sends/readable';
import { ImportTemplates } from '@/ui/templates/import-templates';
import { readScreen } from '../../../session';
import { importTemplatesAction, takeShippedAction } from './actions';

export const metadata: Metadata = { title: 'Templates' };

export default async function TemplatesPage() {
  const { data } = await readScreen(async (scope, { accountId }) =>
    readTemplates(await getContext(), scope, accountId),
  );
  return (
    <Page
      title="Templates"
      actions={
        <Link href="/sends/templates/new" className="button button-main">
          Write a template
        </Link>
      }
      margin={
        <>
          <Section title="How they are used">
            <p className="text-soft">
              In any text, type <kbd>/</kbd> where a word begins, and a few letters of the name.
            </p>
          </Section>
          <Section title="To begin with">
            <p className="mb-2 text-sm text-soft">Seven texts in our words, to be changed as you like.</p>
            <PlainForm action={takeShippedAction} submit="Take them in" />
          </Section>
          <Section title="As a file">
            <p className="mb-2">
              <a className="link" href="/sends/templates/export" download>
                All of them as JSON
              </a>
            </p>
            <ImportTemplates action={importTemplatesAction} />
          </Section>
        </>
      }
    >
      <ListTable
        label="Templates"
        rows={data}
        rowKey={({ template }) => template.id}
        columns={COLUMNS}
        empty={
          <>
            None is kept yet. <Link href="/sends/templates/new">Write one</Link>, or take in those that ship.
          </>
        }
      />
    </Page>
  );
}

const COLUMNS: ListColumn<TemplateLine>[] = [
  { title: 'Folder', cell: ({ template }) => template.folder },
  {
    title: 'Template',
    cell: ({ template }) => (
      <>
        <Link className="link" href={`/sends/templates/${template.id}`}>
          {template.name}
        </Link>
        {template.ownerId !== null && <span className="text-soft">, only yours</span>}
        {template.question !== null && <span className="block text-sm text-soft">{template.question}</span>}
      </>
    ),
  },
  {
    title: 'Words',
    cell: ({ template }) => <span className="line-clamp-2 text-sm text-soft">{readable(template.body)}</span>,
  },
  {
    title: 'Sent from it',
    kind: 'number',
    cell: ({ sends }) => (sends === 0 ? <span className="text-soft">not yet</span> : plural(sends, 'send')),
  },
  { title: 'Replied', kind: 'number', cell: ({ replied }) => <RateLine rate={replied} /> },
  {
    title: 'Answered with it',
    kind: 'number',
    cell: ({ template, answers, answeredBack }) =>
      answers > 0 ? (
        `${plural(answers, 'person', 'people')}, ${answeredBack} wrote again`
      ) : template.question === null ? null : (
        <span className="text-soft">nobody yet</span>
      ),
  },
];
