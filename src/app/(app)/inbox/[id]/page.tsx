import type { Metadata } from 'next';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { readPersonScreen, waysTo } from '@/services/people/screen';
import { personName } from '@/ui/people/people-list';
import { Logbook } from '@/ui/inbox/logbook';
import { Page, Section } from '@/ui/kit/page';
import { ThreadDesk } from '@/ui/inbox/thread-desk';
import { readAnswering } from '@/services/inbox/screen';
import { readAhead } from '@/services/sequences/ahead';
import { getContext } from '@/services/runtime';
import { AheadList } from '@/ui/sequences/ahead-list';
import { readScreen } from '../../../session';
import { plannedOf } from '../../planned';
import { enrolmentAction } from '../../programs/sequences/actions';
import { answerAction, closeAction, leavesAction, nearMissAction, staysAction } from '../actions';

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
    ...(await readAnswering(await getContext(), scope, id, signedIn.name)),
  }));
  const { screen: data, ahead, fields, values } = both;
  if (!data) notFound();
  const { person, entries, coming, planned } = data;
  const lastIn = entries.find(({ direction }) => direction === 'in');
  return (
    <Page
      title={personName({
        ...{ first_name: person.firstName, last_name: person.lastName },
        address: person.number ?? person.email,
      })}
      actions={
        <Link href={`/people/${id}`} className="button">
          Open the person
        </Link>
      }
      margin={
        <>
          <Section title="What to do">
            <ThreadDesk
              personId={id}
              unclear={person.unclearSince !== null}
              nearKeyword={lastIn?.near_keyword ?? null}
              waiting={person.waitingSince !== null}
              stopped={person.stoppedAt !== null}
              ways={waysTo(person, lastIn?.channel ?? null)}
              {...{ fields, values }}
              acts={{
                answer: answerAction,
                close: closeAction,
                leaves: leavesAction,
                stays: staysAction,
                nearMiss: nearMissAction,
              }}
            />
          </Section>
          {ahead.length > 0 && (
            <Section title="Ahead">
              <AheadList rows={ahead} zone={session.workspaceZone} act={enrolmentAction} />
            </Section>
          )}
        </>
      }
    >
      <Logbook
        entries={entries}
        coming={coming}
        planned={plannedOf(planned, ahead)}
        now={now}
        zone={session.workspaceZone}
      />
    </Page>
  );
}
