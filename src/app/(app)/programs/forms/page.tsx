import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { readForms } from '@/services/forms/screen';
import { ListTable } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { readScreen } from '../../../session';
import { createFormAction } from './actions';

export const metadata: Metadata = { title: 'Forms' };

export default async function FormsPage() {
  const {
    data: { forms, programs },
    session,
  } = await readScreen((scope) => readForms(scope));
  return (
    <Page
      title="Forms"
      margin={
        <p className="text-soft">
          Whoever fills one in gets a text that asks whether it was them. Nothing else is sent before their
          YES, and what they filled in is kept with it.
        </p>
      }
    >
      <ListTable
        label="Forms"
        rows={forms}
        rowKey={({ form }) => form.id}
        empty="No form yet: make the first below, publish it, and fill it in yourself."
        columns={[
          {
            title: 'Form',
            cell: ({ form, program }) => (
              <>
                <Link href={`/programs/forms/${form.id}`} className="link">
                  {form.name}
                </Link>{' '}
                <span className="text-sm text-soft">{program.name}</span>
              </>
            ),
          },
          {
            title: 'State',
            cell: ({ form, counts }) =>
              counts.held > 0 ? (
                <Mark tone="wait">{count(counts.held)} held for you</Mark>
              ) : form.closedAt ? (
                <Mark tone="plain">closed</Mark>
              ) : form.version === null ? (
                <Mark tone="plain">not published</Mark>
              ) : (
                <Mark tone="good">open</Mark>
              ),
          },
          { title: 'Opened', kind: 'number', cell: ({ counts }) => count(counts.opened) },
          { title: 'Begun', kind: 'number', cell: ({ counts }) => count(counts.begun) },
          { title: 'Sent', kind: 'number', cell: ({ counts }) => count(counts.sent) },
          { title: 'Joined', kind: 'number', cell: ({ counts }) => count(counts.proved) },
        ]}
      />
      {may(session.role, 'edit-programs') && (
        <Section title="A new form">
          {programs.length === 0 ? (
            <p className="text-soft">
              A form is for a program: <Link href="/programs/new">make one</Link> first.
            </p>
          ) : (
            <PlainForm
              action={createFormAction}
              submit="Make the form"
              fields={[
                { name: 'name', label: 'Name', maxLength: 80 },
                {
                  name: 'program',
                  label: 'Program people join by it',
                  options: programs.map(({ id, name }) => ({ value: id, label: name })),
                },
              ]}
            />
          )}
        </Section>
      )}
    </Page>
  );
}
