import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound, redirect } from 'next/navigation';
import { may } from '@/core/access/roles';
import { displayNumber } from '@/core/phone/number';
import { placeOf } from '@/core/phone/place';
import { readPersonScreen, waysTo, type PersonScreen } from '@/services/people/screen';
import { readMaySend } from '@/services/clearance/may-send';
import { readLeaving } from '@/services/inbox/screen';
import { groundsOf, howItCame } from '@/ui/inbox/consent-words';
import { LeaveDesk } from '@/ui/inbox/leave-desk';
import { MaySendTable } from '@/ui/people/may-send';
import { LEAVE_ACTS } from '../../inbox/leave-acts';
import { readPersonDesk, type PersonDesk as Desk } from '@/services/people/person-desk';
import { Logbook } from '@/ui/inbox/logbook';
import { plannedOf } from '../../planned';
import { Addresses } from '@/ui/people/addresses';
import { personName } from '@/ui/people/people-list';
import { PersonDesk } from '@/ui/people/person-desk';
import { PersonalLinkButton, ToldOfThemselves } from '@/ui/people/told';
import { PlainForm } from '@/ui/kit/plain-form';
import { Mark, type Tone } from '@/ui/kit/mark';
import { Facts, Page, Section } from '@/ui/kit/page';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../session';
import { undoMergeAction } from '../duplicates/actions';
import {
  changeAddressAction,
  editPersonAction,
  erasePersonAction,
  labelPersonAction,
  personalLinkAction,
} from '../person-actions';
import { AheadList } from '@/ui/sequences/ahead-list';
import { TaskList } from '@/ui/tasks/task-list';
import { callsOfPerson, shownCall } from '@/services/calls/screen';
import { readAhead } from '@/services/sequences/ahead';
import { readSequences } from '@/services/sequences/screen';
import { tasksOfPerson } from '@/services/tasks/tasks';
import { readTold } from '@/services/questions/screen';
import { readTeammates } from '@/services/tasks/screen';
import { getContext } from '@/services/runtime';
import { enrolAction, enrolmentAction } from '../../programs/sequences/actions';
import { taskAction } from '../../tasks/actions';

export const metadata: Metadata = { title: 'Person' };

export default async function PersonPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const {
    data: both,
    session,
    now,
  } = await readScreen(async (scope, _, at) => ({
    screen: await readPersonScreen(scope, id, at),
    desk: await readPersonDesk(scope, id),
    maySend: await readMaySend(scope, id, at),
    leaving: await readLeaving(scope, id, at),
    ahead: await readAhead(await getContext(), scope, id),
    sequences: (await readSequences(scope, at)).filter(({ state }) => state === 'running'),
    told: await readTold(scope, id),
    calls: await callsOfPerson(scope, id),
    tasks: await tasksOfPerson(scope, id),
    teammates: await readTeammates(scope),
  }));
  const { screen: data, desk } = both;
  if (!data || !desk || desk.erased) notFound();
  if (desk.mergedInto) redirect(`/people/${desk.mergedInto}`);
  const mayEdit = may(session.role, 'edit-people');
  const { person, entries, coming, planned } = data;
  const zone = session.workspaceZone;
  return (
    <Page
      title={personName({
        first_name: person.firstName,
        last_name: person.lastName,
        address: person.number ?? person.email ?? person.further?.[0] ?? null,
      })}
      actions={
        <Link href={`/inbox/${id}`} className="button">
          {waysTo(data, null).length === 0 ? 'Open the thread' : 'Write to them'}
        </Link>
      }
      margin={
        <>
          <Section title="Who">
            <Who person={person} />
          </Section>
          <Section title="Addresses" note="the preferred ones first">
            <Addresses
              addresses={data.addresses.map(({ kind, value, rank, state, line_type }) => ({
                ...{ kind, value, preferred: rank === 0, state, line: line_type },
                agreed: data.agreed[`${kind} ${value}`] ?? [],
              }))}
              mayEdit={mayEdit}
              change={changeAddressAction.bind(null, id)}
            />
          </Section>
          <Section
            title="Ahead"
            note={
              <a className="link" href={`/people/${id}/ahead.ics`}>
                as a calendar
              </a>
            }
          >
            {both.ahead.length === 0 ? (
              <p className="text-sm text-soft">Nothing is planned for them.</p>
            ) : (
              <AheadList rows={both.ahead} zone={zone} act={enrolmentAction} />
            )}
            {both.sequences.length > 0 && mayEdit && (
              <PlainForm
                action={enrolAction}
                submit="Let them in"
                hidden={{ person: id }}
                fields={[
                  {
                    name: 'sequence',
                    label: 'Into a sequence',
                    options: both.sequences.map((one) => ({ value: one.id, label: one.name })),
                  },
                ]}
              />
            )}
          </Section>
          {both.tasks.length > 0 && (
            <Section title="Tasks">
              <TaskList
                tasks={both.tasks}
                now={now}
                zone={zone}
                act={taskAction}
                teammates={both.teammates}
              />
            </Section>
          )}
          <Section title="What is known">
            <PersonDesk
              fields={desk.fields}
              labels={desk.labels}
              known={desk.known}
              mayEdit={mayEdit}
              save={editPersonAction.bind(null, id)}
              label={labelPersonAction.bind(null, id)}
            />
          </Section>
          <Section title="Told us themselves">
            <ToldOfThemselves {...both.told} zone={zone} />
            {mayEdit && <PersonalLinkButton make={personalLinkAction.bind(null, id)} />}
          </Section>
          <Section title="Consent" note="newest first">
            <Consents data={data} zone={zone} />
          </Section>
          {mayEdit && <Upkeep id={id} desk={desk} />}
        </>
      }
    >
      <Standing person={person} zone={zone} />
      <Section title="What may be sent to them" note="now, of what we begin; an answer may go all the same">
        <MaySendTable {...both.maySend} zone={zone} />
        {may(session.role, 'answer') && (
          <div className="mt-3">
            <LeaveDesk
              {...both.leaving}
              {...{ personId: id, now, zone }}
              stopped={person.stoppedAt !== null}
              acts={LEAVE_ACTS}
            />
          </div>
        )}
      </Section>
      <Section title="What went and came">
        <Logbook
          entries={entries}
          calls={both.calls.map(shownCall)}
          coming={coming}
          planned={plannedOf(planned, both.ahead)}
          grounds={groundsOf(data, zone)}
          now={now}
          zone={zone}
        />
      </Section>
    </Page>
  );
}

/** Taking a merge apart, everything on file, and the end. */
function Upkeep({ id, desk }: { id: string; desk: Desk }) {
  return (
    <Section title="Records">
      {desk.merges.map((merge) => (
        <PlainForm
          key={merge.id}
          action={undoMergeAction}
          submit={`Take apart again: ${merge.name}`}
          hidden={{ merge: merge.id }}
        />
      ))}
      <p className="my-2">
        <a className="link" href={`/people/${id}/export`}>
          everything about them (JSON)
        </a>
        {', '}
        <Link className="link" href={`/people/${id}/proof`}>
          proof for a complaint
        </Link>
      </p>
      <details>
        <summary className="cursor-pointer">Erase on request …</summary>
        <p className="my-2 text-soft">
          Name, addresses and everything written go. Their opt-out and the audit stay, and no import brings
          them back.
        </p>
        <PlainForm
          action={erasePersonAction}
          submit="Erase this person"
          hidden={{ id }}
          fields={[{ name: 'sure', label: 'Type “erase”' }]}
        />
      </details>
    </Section>
  );
}

function Standing({ person, zone }: { person: PersonScreen['person']; zone: string }) {
  if (person.stoppedAt)
    return (
      <p className="mb-4 border-l-2 border-bad pl-3">
        Opted out of all texts, chat and calls on {dayAndTime(person.stoppedAt, zone)}: none is sent to them,
        and only they can come back, by texting START or a keyword. E-mail is agreed to by itself, see below.
      </p>
    );
  if (person.unclearSince)
    return (
      <p className="mb-4 border-l-2 border-wait pl-3">
        A reply of {dayAndTime(person.unclearSince, zone)} may be an opt-out. Nothing automatic goes to them
        until somebody decides in the <Link href={`/inbox/${person.id}`}>Inbox</Link>.
      </p>
    );
  return null;
}

function Who({ person }: { person: PersonScreen['person'] }) {
  const place = placeOf({
    number: person.number,
    zone: person.zone,
    region: person.region,
    postalCode: person.postalCode,
  });
  return (
    <Facts
      rows={[
        [
          'where',
          [
            person.region ?? (place.region && `${place.region} (by ${place.basis.replace('-', ' ')})`),
            person.postalCode,
          ]
            .filter(Boolean)
            .join(' ') || 'not known',
        ],
        [
          'time zone',
          `${place.zones.map((zone) => zone.replace(/^.*\//, '').replace('_', ' ')).join(' or ')} (by ${place.basis.replace('-', ' ')})`,
        ],
        ['came by', person.source.replace(/\+\d+/, displayNumber)],
      ]}
    />
  );
}

const KINDS: Record<string, { word: string; tone: Tone }> = {
  'opted-in': { word: 'opted in', tone: 'good' },
  'opted-out': { word: 'opted out', tone: 'bad' },
  asked: { word: 'asked to confirm', tone: 'wait' },
  lapsed: { word: 'lapsed', tone: 'plain' },
};

function Consents({ data, zone }: { data: PersonScreen; zone: string }) {
  if (data.consents.length === 0)
    return <p className="text-soft">They never agreed to anything: nothing can be sent to them.</p>;
  const textOf = (id: string | undefined) => data.entries.find((entry) => entry.id === id);
  return (
    <ol>
      {together(data.consents).map((act) => {
        const { id, kind, evidence } = act;
        return (
          <li key={id} className="border-b border-rule py-2 text-sm">
            <div className="flex flex-wrap items-baseline justify-between gap-x-3">
              <span className="text-[0.95rem]">{told(act, data.consents)}</span>
              <Mark tone={KINDS[kind]!.tone}>{KINDS[kind]!.word}</Mark>
            </div>
            <div className="text-soft">{howItCame(act, zone, textOf(evidence.afterTextId)?.body)}</div>
          </li>
        );
      })}
    </ol>
  );
}

/** Out of several at once is out of everything: which of it they were in says what they left. */
function told({ kind, programs, at }: Act, consents: PersonScreen['consents']): string {
  if (kind !== 'opted-out' || programs.length < 2) return [...new Set(programs)].join(' and ');
  const joined = [...new Set(programs)].filter((name) =>
    consents.some((one) => one.program_name === name && one.kind !== 'opted-out' && one.at <= at),
  );
  return joined.length > 0 ? `everything (was in ${joined.join(', ')})` : 'everything';
}

type Act = PersonScreen['consents'][number] & { programs: string[] };

/** What one act did to several programs is told once. */
function together(consents: PersonScreen['consents']): Act[] {
  const acts: Act[] = [];
  for (const consent of consents) {
    const last = acts.at(-1);
    if (
      last &&
      last.kind === consent.kind &&
      last.address === consent.address &&
      last.at.getTime() === consent.at.getTime()
    )
      last.programs.push(consent.program_name);
    else acts.push({ ...consent, programs: [consent.program_name] });
  }
  return acts;
}
