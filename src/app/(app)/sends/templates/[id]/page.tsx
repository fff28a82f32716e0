import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { readDraftChoices } from '@/services/sends/screen';
import { findTemplate, versionsOf } from '@/services/templates/templates';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { readable } from '@/ui/sends/readable';
import { TemplateDesk, type TemplateValues } from '@/ui/templates/template-desk';
import { readScreen } from '../../../../session';
import { dropTemplateAction, saveTemplateAction } from '../actions';

export const metadata: Metadata = { title: 'Template' };

const NEW: TemplateValues = {
  id: null,
  version: 0,
  name: '',
  folder: '',
  subject: '',
  question: '',
  body: '',
  own: false,
};

export default async function TemplatePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen(async (scope, { accountId }, now) => ({
    template: id === 'new' ? null : await findTemplate(scope, id, accountId),
    versions: id === 'new' ? [] : await versionsOf(scope, id),
    fields: (await readDraftChoices(scope, accountId, now)).fields,
  }));
  const { template, versions } = data;
  if (id !== 'new' && !template) notFound();
  const values = template
    ? {
        ...{ id, version: template.version, name: template.name, folder: template.folder },
        question: template.question ?? '',
        ...{ subject: template.subject ?? '', body: template.body, own: template.ownerId !== null },
      }
    : NEW;
  const before = versions.filter(({ version }) => version !== template?.version);
  return (
    <Page
      title={template ? template.name : 'Write a template'}
      margin={
        template && (
          <>
            {before.length > 0 && (
              <Section title="As it was">
                <ul>
                  {before.map(({ version, body, at }) => (
                    <li key={version} className="border-b border-rule py-2 text-sm">
                      <p className="text-soft">
                        version {version}, {dayAndTime(at, session.workspaceZone)}
                      </p>
                      <p className="whitespace-pre-wrap [overflow-wrap:anywhere]">{readable(body)}</p>
                    </li>
                  ))}
                </ul>
              </Section>
            )}
            <Section title="Not needed any more">
              <PlainForm action={dropTemplateAction} submit="Drop it" hidden={{ template: id }} />
              <p className="mt-1 text-sm text-soft">What was sent from it stays.</p>
            </Section>
          </>
        )
      }
    >
      <TemplateDesk
        key={values.version}
        initial={values}
        fields={data.fields}
        before={before.map(({ version, body }) => ({ version, body }))}
        save={saveTemplateAction}
      />
    </Page>
  );
}
