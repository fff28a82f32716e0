import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { readPersonScreen, waysTo } from '@/services/people/screen';
import { personName } from '@/ui/people/people-list';
import { Logbook } from '@/ui/inbox/logbook';
import { NextKey } from '@/ui/inbox/list-keys';
import { OpenAtNow } from '@/ui/inbox/open-at-now';
import { Page, Section } from '@/ui/kit/page';
import { ThreadDesk } from '@/ui/inbox/thread-desk';
import {
  nextThread,
  readAnswering,
  readLeaving,
  readThreadLog,
  readThreadSide,
} from '@/services/inbox/screen';
import { callsOfPerson, outcomeNames, shownCall } from '@/services/calls/screen';
import { readThreadWindow } from '@/services/chat/screen';
import { readAhead } from '@/services/sequences/ahead';
import { getContext } from '@/services/runtime';
import { NoteCall } from '@/ui/calls/note-call';
import { AheadList } from '@/ui/sequences/ahead-list';
import { readScreen } from '../../../session';
import { plannedOf } from '../../planned';
import { enrolmentAction } from '../../programs/sequences/actions';
import {
  answerAction,
  closeAction,
  factAction,
  nearMissAction,
  noteAction,
  removeNoteAction,
  staysAction,
  takeBackAction,
  threadAction,
} from '../actions';
import { changeCallAction, noteCallAction } from '../calls/actions';
import { ThreadFacts } from '@/ui/inbox/thread-facts';
import { ThreadKeys } from '@/ui/inbox/thread-keys';
import { ThreadSide } from '@/ui/inbox/thread-side';
import { LEAVE_ACTS } from '../leave-acts';
import { groundsOf } from '@/ui/inbox/consent-words';

export const metadata: Metadata = { title: 'Thread' };

export default async function ThreadPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const {
    data: both,
    session,
    now,
  } = await readScreen(async (scope, signedIn, at) => ({
    screen: await readPersonScreen(scope, id, at),
    ahead: await readAhead(await getContext(), scope, id),
    leaving: await readLeaving(scope, id, at),
    next: await nextThread(scope, id, signedIn.accountId, at),
    side: await readThreadSide(scope, id, signedIn.accountId, at),
    log: await readThreadLog(scope, id),
    chat: await readThreadWindow(scope, id, at),
    calls: await callsOfPerson(scope, id),
    outcomes: await outcomeNames(scope),
    ...(await readAnswering(await getContext(), scope, id, signedIn.name)),
  }));
  const { screen: data, ahead, fields, values, kept, leaving, next, chat, side, log } = both;
  if (!data) notFound();
  const { person, entries, coming, planned } = data;
  const lastIn = entries.find(({ direction }) => direction === 'in');
  return (
    <Page
      title={personName({
        ...{ first_name: person.firstName, last_name: person.lastName },
        address: person.number ?? person.email ?? person.further?.[0] ?? null,
      })}
      actions={
        <>
          {next && (
            <Link href={`/inbox/${next.id}`} className="button">
              Next: {personName(next)} <kbd>n</kbd>
            </Link>
          )}
          {next && <NextKey href={`/inbox/${next.id}`} />}
          <Link href={`/people/${id}`} className="button">
            Open the person
          </Link>
        </>
      }
      margin={
        <>
          <Section title="What to do">
            <ThreadDesk
              personId={id}
              unclear={person.unclearSince !== null}
              nearKeyword={lastIn?.near_keyword ?? null}
              waiting={side.waits !== null}
              answering={{ ...side, seenAt: now, now, zone: session.workspaceZone }}
              stopped={person.stoppedAt !== null}
              ways={waysTo(data, lastIn?.channel ?? null)}
              {...{ fields, values, kept }}
              chat={chat && { ...chat, now, zone: session.workspaceZone }}
              leaving={{ ...leaving, now, zone: session.workspaceZone }}
              acts={{
                answer: answerAction,
                close: closeAction,
                ...LEAVE_ACTS,
                stays: staysAction,
                nearMiss: nearMissAction,
                takeBack: takeBackAction,
              }}
            />
          </Section>
          <Section title="Whose, and when">
            <ThreadSide
              personId={id}
              whose={side.accountId ?? person.ownerId}
              team={side.team}
              later={side.later}
              waits={side.waits}
              {...{ now, zone: session.workspaceZone }}
              acts={{ thread: threadAction, note: noteAction }}
            />
          </Section>
          {side.facts.length > 0 && (
            <Section title="What you learn">
              <ThreadFacts personId={id} facts={side.facts} act={factAction} />
            </Section>
          )}
          {person.number !== null && both.outcomes.length > 0 && (
            <Section title="By phone">
              <NoteCall personId={id} outcomes={both.outcomes} act={noteCallAction} />
            </Section>
          )}
          {ahead.length > 0 && (
            <Section title="Ahead">
              <AheadList rows={ahead} zone={session.workspaceZone} act={enrolmentAction} />
            </Section>
          )}
        </>
      }
    >
      <OpenAtNow />
      <ThreadKeys />
      <Logbook
        entries={entries}
        calls={both.calls.map(shownCall)}
        notes={side.notes.map(({ account_id, ...note }) => ({
          ...note,
          own: account_id === session.accountId,
        }))}
        acts={{
          removeNote: removeNoteAction,
          changeCall: { outcomes: both.outcomes, act: changeCallAction },
        }}
        marks={log}
        coming={coming}
        planned={plannedOf(planned, ahead)}
        grounds={groundsOf(data, session.workspaceZone)}
        now={now}
        zone={session.workspaceZone}
      />
    </Page>
  );
}
