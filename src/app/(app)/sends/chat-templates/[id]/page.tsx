import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { CATEGORY_WORDS } from '@/core/chat/network';
import { wordingAfter } from '@/core/chat/wording-life';
import { readChatTemplate, type TemplateScreen } from '@/services/chat/screen';
import { readDraftChoices } from '@/services/sends/screen';
import { ChatTemplateDesk } from '@/ui/chat/template-desk';
import { languageName } from '@/ui/chat/language-name';
import { EVENT_WORDS } from '@/ui/chat/event-words';
import { WordingMark } from '@/ui/chat/wording-mark';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { count, percent } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../session';
import {
  addLanguageAction,
  archiveAction,
  handInAction,
  keepWordingAction,
  newVersionAction,
  withdrawAction,
} from '../actions';

export const metadata: Metadata = { title: 'Chat template' };

interface Asked {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ wording?: string }>;
}

export default async function ChatTemplatePage({ params, searchParams }: Asked) {
  const [{ id }, { wording = null }] = [await params, await searchParams];
  const { data, session } = await readScreen(async (scope, { accountId }, now) => ({
    screen: await readChatTemplate(scope, id, wording),
    fields: (await readDraftChoices(scope, accountId, now)).fields,
  }));
  const { screen, fields } = data;
  if (!screen) notFound();
  const { template, account, shown } = screen;
  const mayEdit = may(session.role, 'send') && template.archivedAt === null;
  const zone = session.workspaceZone;
  return (
    <Page
      title={
        <>
          {template.name}{' '}
          <span className="text-base text-soft">{CATEGORY_WORDS[template.category].name}</span>
        </>
      }
      actions={
        <Link className="button" href="/sends/chat-templates">
          All templates
        </Link>
      }
    >
      <ListTable
        label="Languages and versions"
        rows={rowsOf(screen)}
        rowKey={(row) => row.wording.id}
        columns={COLUMNS}
        empty=""
      />
      <section className="mt-8" aria-label="The words">
        <h2 className="mb-3 font-head text-xl">
          {languageName(shown.language)}, version {shown.version} <WordingMark state={shown.state} />
        </h2>
        {shown.reason && (
          <p className="mb-4 border-l-2 border-bad pl-3">
            {account.name} says: {shown.reason}
          </p>
        )}
        <ChatTemplateDesk
          key={`${shown.id} ${shown.state}`}
          template={{ name: template.name, category: template.category }}
          {...{ language: shown.language, version: shown.version, state: shown.state, fields, mayEdit }}
          limits={account.limits}
          account={account.name}
          initial={{ id: shown.id, stamp: shown.stamp, words: shown.words, samples: shown.samples }}
          examples={EXAMPLES}
          keep={keepWordingAction}
          handIn={handInAction}
        />
      </section>
      <div className="mt-10 grid gap-x-10 gap-y-6 md:grid-cols-2">
        <Section title="What happened to it">
          {screen.history.length === 0 ? (
            <p className="text-soft">It was not handed in yet.</p>
          ) : (
            <ul>
              {screen.history.map(({ id: line, event, reason, at }) => (
                <li key={line} className="flex gap-3 border-b border-rule py-1 text-sm">
                  <span className="w-32 shrink-0 text-soft tabular-nums">{dayAndTime(at, zone)}</span>
                  <span>
                    {EVENT_WORDS[event] ?? event}
                    {reason && <span className="text-soft">: {reason}</span>}
                  </span>
                </li>
              ))}
            </ul>
          )}
        </Section>
        {mayEdit && <Acts screen={screen} />}
      </div>
    </Page>
  );
}

/** What a reviewer may read where nobody gave an example, by the field it stands for. */
const EXAMPLES: Record<string, string> = {
  ...{ first_name: 'Ada', last_name: 'Orr', postal_code: '81201', email: 'ada@example.org' },
};

function Acts({ screen: { template, shown } }: { screen: TemplateScreen }) {
  const decided = shown.state !== 'draft' && shown.state !== 'in-review';
  return (
    <Section title="What can be done">
      {decided && (
        <div className="mb-4">
          <p className="mb-1 text-sm text-soft">
            Mend it as a new version. What is approved goes on being sent until the new one is approved too.
          </p>
          <PlainForm
            action={newVersionAction}
            submit="Begin a new version"
            hidden={{ wording: shown.id, template: template.id }}
          />
        </div>
      )}
      <div className="mb-4">
        <PlainForm
          action={addLanguageAction}
          submit="Add the language"
          hidden={{ template: template.id }}
          fields={[
            {
              name: 'language',
              label: 'In another language',
              hint: 'A tag such as es or fr.',
              maxLength: 20,
            },
          ]}
        />
        <p className="mt-1 text-sm text-soft">
          Everybody gets it in theirs, as far as there is one; else in the one that was written first.
        </p>
      </div>
      {wordingAfter(shown.state, 'withdraw') !== null && (
        <div className="mb-4">
          <PlainForm action={withdrawAction} submit="Withdraw this version" hidden={{ wording: shown.id }} />
          <p className="mt-1 text-sm text-soft">What waits to be sent by it is not sent any more.</p>
        </div>
      )}
      <PlainForm action={archiveAction} submit="Put the template away" hidden={{ template: template.id }} />
    </Section>
  );
}

interface Row {
  wording: TemplateScreen['shown'];
  sent: number;
  read: number;
  isShown: boolean;
}

const rowsOf = ({ wordings, uses, shown }: TemplateScreen): Row[] =>
  [...wordings]
    .sort((a, b) => (a.language === b.language ? b.version - a.version : a.language < b.language ? -1 : 1))
    .map((wording) => {
      const use = uses.find(({ wording_id: id }) => id === wording.id);
      return { wording, sent: use?.sent ?? 0, read: use?.read ?? 0, isShown: wording.id === shown.id };
    });

const COLUMNS: ListColumn<Row>[] = [
  {
    title: 'Language',
    cell: ({ wording, isShown }) =>
      isShown ? (
        <strong aria-current="true">{languageName(wording.language)}</strong>
      ) : (
        <Link className="link" href={`?wording=${wording.id}`}>
          {languageName(wording.language)}
        </Link>
      ),
  },
  { title: 'Version', kind: 'number', cell: ({ wording }) => wording.version },
  { title: 'Stands', cell: ({ wording }) => <WordingMark state={wording.state} /> },
  { title: 'Why', cell: ({ wording }) => <span className="text-sm text-soft">{wording.reason}</span> },
  { title: 'Sent', kind: 'number', cell: ({ sent }) => count(sent) },
  {
    title: 'Read',
    kind: 'number',
    cell: ({ sent, read }) => (sent === 0 ? null : `${count(read)}, ${percent(read / sent)}`),
  },
];
