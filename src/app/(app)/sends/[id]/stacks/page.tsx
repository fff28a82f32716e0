import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { readStacks } from '@/services/stacks/screen';
import { plural } from '@/ui/kit/numbers';
import { PlainForm } from '@/ui/kit/plain-form';
import { Page, Section } from '@/ui/kit/page';
import { SplitForm } from '@/ui/stacks/split-form';
import { FactsTable } from '@/ui/stacks/facts-table';
import { StackTable } from '@/ui/stacks/stack-table';
import { readScreen } from '../../../../session';
import { splitAction, stackAction, wordsAction } from './actions';

export const metadata: Metadata = { title: 'Stacks' };

export default async function StacksPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session, now } = await readScreen((scope, _, at) => readStacks(scope, id, at));
  if (!data) notFound();
  const { broadcast, stacks, loose, blocked, team, words, facts } = data;
  const own = stacks.find(
    ({ account_id: account, ended_at: ended }) => account === session.accountId && !ended,
  );
  const open = broadcast.state === 'sending' || broadcast.state === 'paused';
  return (
    <Page
      title={`Stacks of ${broadcast.name}`}
      actions={
        <>
          {own && (
            <Link href={`/sends/${id}/stack`} className="button button-main">
              Press your stack
            </Link>
          )}
          <Link href={`/sends/${id}`} className="button">
            The broadcast
          </Link>
        </>
      }
      margin={
        may(session.role, 'send') && open ? (
          <>
            <Section
              title={loose > 0 ? `Split ${plural(loose, 'person', 'people')}` : 'Give somebody a stack'}
            >
              <SplitForm sendId={id} team={team} action={splitAction} />
            </Section>
            <Section title="Words to the team">
              {words && (
                <p className="mb-2 border-l-2 border-accent pl-3 [overflow-wrap:anywhere]">
                  {words.by && <span className="text-soft">{words.by}: </span>}
                  {words.body}
                </p>
              )}
              <PlainForm
                action={wordsAction}
                submit="Say it"
                hidden={{ send: id }}
                fields={[
                  {
                    ...{ name: 'words', label: 'To all who press', maxLength: 300 },
                    hint: 'It stands on every desk until you say something else.',
                  },
                ]}
              />
            </Section>
          </>
        ) : undefined
      }
    >
      <p className="mb-4 text-soft">
        {loose > 0
          ? `${plural(loose, 'person lies', 'people lie')} in no stack: nobody presses for them yet.`
          : 'Everybody lies in a stack, or was pressed.'}
        {blocked > 0 &&
          ` ${plural(blocked, 'person gets', 'people get')} nothing; why stands in the broadcast.`}
      </p>
      <StackTable
        rows={stacks}
        now={now}
        zone={session.workspaceZone}
        act={may(session.role, 'send') ? stackAction : null}
        read={`/sends/${id}/stacks`}
      />
      <FactsTable facts={facts} file={`/sends/${id}/stacks/facts`} />
    </Page>
  );
}
