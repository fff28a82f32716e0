import { membersHref } from '@/ui/people/people-list';
import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { displayNumber } from '@/core/phone/number';
import { measure } from '@/core/text/measure';
import {
  confirmationText,
  doubleOptInText,
  frequencyPhrase,
  helpText,
  optOutText,
} from '@/core/text/wording';
import { readProgramScreen } from '@/services/programs/screen';
import { ListTable } from '@/ui/kit/list-table';
import { count, plural } from '@/ui/kit/numbers';
import { Empty, Facts, Page, Section } from '@/ui/kit/page';
import { CountedAt } from '@/ui/programs/counted-at';
import { KeywordForm, RemoveKeyword } from '@/ui/programs/program-forms';
import { readScreen } from '../../../session';
import { addKeywordAction, removeKeywordAction } from '../actions';

export const metadata: Metadata = { title: 'Program' };

export default async function ProgramPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen((scope, _, now) => readProgramScreen(scope, id, now));
  if (!data) notFound();
  const { program, counts, countedAt, keywords, senders, workspace } = data;
  const wording = {
    business: workspace.business,
    program: program.name,
    frequency: frequencyPhrase(program.promiseCount, program.promisePeriod),
    contact: workspace.contact,
  };
  const automatic: [string, string][] = [
    ...(program.doubleOptIn
      ? [['question before joining', doubleOptInText(wording)] as [string, string]]
      : []),
    ['confirmation', confirmationText(wording, program.welcome)],
    ['help', helpText(wording)],
    ['opt-out confirmation', optOutText(workspace.business)],
  ];
  return (
    <Page
      title={program.name}
      actions={
        <>
          <Link href={`/programs/${id}/change`} className="button">
            Change it
          </Link>
          <Link href={`/sends/new?program=${id}`} className="button button-main">
            Write a broadcast
          </Link>
        </>
      }
      margin={
        <>
          <Members id={id} counts={counts}>
            <CountedAt at={countedAt} zone={session.workspaceZone} />
          </Members>
          <PromiseSection program={program} often={wording.frequency} />
          <Senders senders={senders} />
        </>
      }
    >
      <Keywords id={id} keywords={keywords} />
      <Automatic texts={automatic} />
      <Section title="Where members came from" note="each once, by what they joined by first">
        <ListTable
          label="Sources"
          rows={counts.sources}
          columns={[
            { title: 'Source', cell: (row) => row.source },
            { title: 'Joined', kind: 'number', cell: (row) => count(row.joined) },
            { title: 'Left since', kind: 'number', cell: (row) => count(row.left) },
          ]}
          rowKey={(row) => row.source}
          empty="Nobody has joined yet."
        />
      </Section>
    </Page>
  );
}

type Screen = NonNullable<Awaited<ReturnType<typeof readProgramScreen>>>;

function Members({ id, counts, children }: Pick<Screen, 'counts'> & { id: string; children: ReactNode }) {
  return (
    <Section title="Members">
      <Facts
        rows={[
          [
            'in',
            <Link key="in" className="link" href={membersHref(id, 'in')}>
              {count(counts.members)}
            </Link>,
          ],
          [
            'left',
            <Link key="out" className="link" href={membersHref(id, 'out')}>
              {count(counts.left)}
            </Link>,
          ],
          ['in, 30 days', count(counts.joined30)],
          ['out, 30 days', count(counts.left30)],
        ]}
      />
      {children}
    </Section>
  );
}

function PromiseSection({ program, often }: Pick<Screen, 'program'> & { often: string }) {
  return (
    <Section title="The promise">
      <Facts
        rows={[
          ['how often', often],
          ['purpose', program.purpose],
          ['double opt-in', program.doubleOptIn ? 'yes' : 'no'],
          [
            'own hours',
            program.ownHours ? `${program.ownHours.from}–${program.ownHours.to}` : 'as the law allows',
          ],
        ]}
      />
    </Section>
  );
}

function Senders({ senders }: Pick<Screen, 'senders'>) {
  return (
    <Section title="Sender numbers">
      {senders.length === 0 ? (
        <p className="text-bad">None: nothing can be sent.</p>
      ) : (
        <ul>
          {senders.map((sender) => (
            <li key={sender.id} className="border-b border-rule py-1.5">
              {displayNumber(sender.number)}{' '}
              <span className="text-soft">{sender.registration.replace('-', ' ')}</span>
            </li>
          ))}
        </ul>
      )}
    </Section>
  );
}

function Keywords({ id, keywords }: Pick<Screen, 'keywords'> & { id: string }) {
  return (
    <Section title="Keywords">
      {keywords.length === 0 && <Empty>No keyword yet: nobody can join by text.</Empty>}
      <ul className="mb-4">
        {keywords.map((keyword) => (
          <li
            key={keyword.id}
            className="flex items-center justify-between gap-4 border-b border-rule py-1.5"
          >
            <Link href={`/programs/keywords/${keyword.id}`} className="link font-semibold">
              {keyword.word.toUpperCase()}
            </Link>
            <RemoveKeyword
              action={removeKeywordAction}
              keywordId={keyword.id}
              word={keyword.word.toUpperCase()}
            />
          </li>
        ))}
      </ul>
      <div className="max-w-sm">
        <KeywordForm action={addKeywordAction} programId={id} />
      </div>
    </Section>
  );
}

/** Texts that leave by themselves, with what they take. */
function Automatic({ texts }: { texts: [name: string, text: string][] }) {
  return (
    <Section title="What is sent automatically">
      <ul>
        {texts.map(([name, text]) => (
          <li key={name} className="border-b border-rule py-2">
            <div className="flex justify-between gap-4 text-sm text-soft">
              <span>{name}</span>
              <span>
                {plural(measure(text).parts, 'part')}, {measure(text).units} units
              </span>
            </div>
            <p className="max-w-[62ch]">{text}</p>
          </li>
        ))}
      </ul>
    </Section>
  );
}
