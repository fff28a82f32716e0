import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { wilson } from '@/core/results/rates';
import { readVoiceMessages, type VoiceLine } from '@/services/voicemail/screen';
import { ListTable, type ListColumn } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { count, plural } from '@/ui/kit/numbers';
import { Page, Section } from '@/ui/kit/page';
import { RateLine } from '@/ui/results/result-lines';
import { KeptPlayer } from '@/ui/voicemail/player';
import { readScreen } from '../../../session';

export const metadata: Metadata = { title: 'Voice messages' };

export default async function VoiceMessagesPage() {
  const { data: lines, session } = await readScreen((scope) => readVoiceMessages(scope));
  return (
    <Page
      title="Voice messages"
      actions={
        may(session.role, 'send') && (
          <Link href="/sends/voice-messages/new" className="button button-main">
            Record one
          </Link>
        )
      }
      margin={
        <Section title="What works">
          <p className="text-sm text-soft">
            Fifteen to thirty seconds: who calls, a question, a number to call back, and how to opt out. A
            voicemail is a call to the law: it goes only to who agreed to voicemails, within the hours for
            calls.
          </p>
        </Section>
      }
    >
      <ListTable
        label="Voice messages"
        rows={lines}
        rowKey={({ message }) => message.id}
        columns={COLUMNS}
        empty={
          <>
            None is recorded yet. <Link href="/sends/voice-messages/new">Record the first</Link>: you will
            hear it as a phone plays it, and what there is to mend.
          </>
        }
      />
    </Page>
  );
}

const COLUMNS: ListColumn<VoiceLine>[] = [
  {
    title: 'Voice message',
    cell: ({ message, newest, musts }) => (
      <>
        <Link className="link" href={`/sends/voice-messages/${message.id}`}>
          {message.name}
        </Link>{' '}
        <span className="whitespace-nowrap text-sm text-soft">
          version {newest.version}, {Math.round(newest.seconds)} s
        </span>
        {musts > 0 && (
          <span className="block text-sm">
            <Mark tone="bad">{plural(musts, 'thing')} to mend first</Mark>
          </span>
        )}
      </>
    ),
    by: ({ message }) => message.name,
  },
  {
    title: 'Words',
    cell: ({ message, newest }) => (
      <>
        <span className="line-clamp-2 text-sm text-soft">{newest.words}</span>
        <KeptPlayer id={newest.id} label={message.name} />
      </>
    ),
  },
  { title: 'Drops', kind: 'number', cell: ({ result }) => count(result?.drops ?? 0) },
  {
    title: 'Left',
    kind: 'number',
    cell: ({ result }) => count(result?.left ?? 0),
    by: ({ result }) => result?.left ?? 0,
  },
  {
    title: 'Rang back',
    kind: 'number',
    cell: ({ result }) => <RateLine rate={wilson(result?.called ?? 0, result?.left ?? 0)} />,
  },
];
