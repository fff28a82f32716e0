import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { CATEGORIES, CATEGORY_WORDS } from '@/core/chat/network';
import { readChatAccounts, readChatTemplates, type TemplateLine } from '@/services/chat/screen';
import { languageName } from '@/ui/chat/language-name';
import { WordingMark } from '@/ui/chat/wording-mark';
import { plainBody } from '@/core/chat/template';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { count, percent } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { readScreen } from '../../../session';
import { createTemplateAction } from './actions';

export const metadata: Metadata = { title: 'Chat templates' };

export default async function ChatTemplatesPage() {
  const { data, session } = await readScreen(async (scope, _, now) => ({
    templates: await readChatTemplates(scope),
    accounts: await readChatAccounts(scope, now),
  }));
  const { templates, accounts } = data;
  return (
    <Page
      title="Chat templates"
      margin={
        <>
          <Section title="Why they are needed">
            <p className="text-sm text-soft">
              By chat a business may begin only with words the network has read. It takes seconds to an hour,
              and may refuse them with a reason. Once somebody writes, you may answer in your own words for 24
              hours.
            </p>
          </Section>
          {accounts.length > 0 && may(session.role, 'send') && (
            <Section title="A new one">
              <PlainForm
                action={createTemplateAction}
                submit="Begin it"
                main
                fields={[
                  {
                    name: 'name',
                    label: 'Name',
                    hint: 'Small letters, digits and low lines: sky_week.',
                    maxLength: 60,
                  },
                  {
                    ...{ name: 'category', label: 'What it is for' },
                    options: CATEGORIES.map((value) => ({
                      value,
                      label: `${CATEGORY_WORDS[value].name}: ${CATEGORY_WORDS[value].hint}`,
                    })),
                  },
                  {
                    name: 'language',
                    label: 'Language',
                    hint: 'A tag such as en, es or fr.',
                    initial: 'en',
                    maxLength: 20,
                  },
                  ...(accounts.length > 1
                    ? [
                        {
                          ...{ name: 'account', label: 'Account' },
                          options: accounts.map(({ account }) => ({
                            value: account.id,
                            label: account.name,
                          })),
                        },
                      ]
                    : []),
                ]}
              />
            </Section>
          )}
        </>
      }
    >
      <ListTable
        label="Chat templates"
        rows={templates}
        rowKey={({ template }) => template.id}
        columns={COLUMNS}
        empty={
          accounts.length === 0 ? (
            <>
              No chat account is connected yet. <Link href="/numbers#chat">Connect one under Numbers</Link>,
              then write the first template.
            </>
          ) : (
            'None is written yet. Begin one at the right: it is checked by the network’s own limits while you write.'
          )
        }
      />
    </Page>
  );
}

const COLUMNS: ListColumn<TemplateLine>[] = [
  {
    title: 'Template',
    cell: ({ template }) => (
      <>
        <Link className="link" href={`/sends/chat-templates/${template.id}`}>
          {template.name}
        </Link>{' '}
        <span className="text-sm text-soft">{CATEGORY_WORDS[template.category].name}</span>
      </>
    ),
    by: ({ template }) => template.name,
  },
  {
    title: 'Words',
    cell: ({ standing }) => (
      <span className="line-clamp-2 text-sm text-soft">{plainBody(standing[0]?.words.body ?? '')}</span>
    ),
  },
  {
    title: 'Languages',
    cell: ({ template, standing }) => (
      <ul>
        {standing.map(({ id, language, version, state }) => (
          <li key={id} className="sm:whitespace-nowrap">
            <Link className="link" href={`/sends/chat-templates/${template.id}?wording=${id}`}>
              {languageName(language)}
            </Link>{' '}
            <span className="text-sm text-soft">version {version}</span> <WordingMark state={state} />
          </li>
        ))}
      </ul>
    ),
  },
  { title: 'Sent', kind: 'number', cell: ({ sent }) => count(sent), by: ({ sent }) => sent },
  {
    title: 'Read',
    kind: 'number',
    cell: ({ sent, read }) =>
      sent === 0 ? null : (
        <span className="whitespace-nowrap">
          {count(read)}, {percent(read / sent)}
        </span>
      ),
  },
];
