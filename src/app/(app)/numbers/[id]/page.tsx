import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { addDays } from '@/core/audience/days';
import { displayNumber } from '@/core/phone/number';
import { readCarrierStates, readNumber, type Standing } from '@/services/numbers/screen';
import { ListTable } from '@/ui/kit/list-table';
import { count, plural } from '@/ui/kit/numbers';
import { Facts, Page, Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { ChangeNumber } from '@/ui/numbers/number-forms';
import { Registered, StandingMark, StandingTable } from '@/ui/numbers/standing';
import { PersonLink } from '@/ui/people/people-list';
import { BarChart } from '@/ui/results/bar-chart';
import { readScreen } from '../../../session';
import { bringNumberBackAction, changeNumberAction, releaseNumberAction, restNumberAction } from '../actions';

export const metadata: Metadata = { title: 'Sender number' };

/** A sender number by itself: how it stands against its own past, what it carried, and who would notice if it were gone. */
export default async function NumberPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session } = await readScreen(async (scope, _, now) => ({
    number: await readNumber(scope, id, now),
    carriers: await readCarrierStates(scope),
  }));
  if (!data.number) notFound();
  const { sender, days, today, unexpected } = data.number;
  const carriers = data.carriers.map(({ id: carrier, name }) => ({ id: carrier, name }));
  return (
    <Page
      title={displayNumber(sender.number)}
      actions={
        <Link href="/numbers" className="button">
          Numbers
        </Link>
      }
      margin={
        <>
          <Section title="What it may">
            <Facts rows={factsOf(sender, today)} />
          </Section>
          {may(session.role, 'edit-programs') && (
            <>
              <Section title="Change it">
                <ChangeNumber action={changeNumberAction} sender={changed(sender)} carriers={carriers} />
              </Section>
              <Rest sender={sender} zone={session.workspaceZone} />
              <GiveBack sender={sender} />
            </>
          )}
        </>
      }
    >
      <Section
        title="Standing"
        note={<StandingMark state={sender.standing.state} rests={sender.rested_at !== null} />}
      >
        <StandingTable lines={sender.standing.lines} />
      </Section>
      <Section title="What it carried" note="by day of UTC, eight weeks">
        <BarChart
          series={days.map(({ n }) => n)}
          periods={days.map(({ day }) => ({ from: day, until: addDays(day, 1) }))}
          label="Messages that left from it"
        />
      </Section>
      <Section title="Texts nobody expected" note="30 days: from people to whom nothing had gone from it">
        <ListTable
          label="Texts nobody expected"
          rows={unexpected}
          columns={[
            { title: 'From', cell: (row) => <PersonLink id={row.person_id} person={row} /> },
            { title: 'Words', cell: ({ body }) => <span className="[overflow-wrap:anywhere]">{body}</span> },
            { title: 'When', kind: 'when', cell: ({ at }) => dayAndTime(at, session.workspaceZone) },
          ]}
          rowKey={({ id: text }) => text}
          empty="None."
        />
      </Section>
    </Page>
  );
}

const factsOf = (sender: Standing, today: number): [string, React.ReactNode][] => [
  ['Kind', sender.kind.replace('-', ' ')],
  [
    'Registration',
    <Link key="registration" className="link" href="/numbers/registration">
      <Registered sender={sender} />
    </Link>,
  ],
  ['Pictures', sender.mms ? 'sends and takes them' : 'texts only'],
  ['Parts a second', count(sender.parts_per_second)],
  [
    'Today',
    sender.daily_cap === null ? `${count(today)}, no cap` : `${count(today)} of ${count(sender.daily_cap)}`,
  ],
  ['Programs', sender.programs.join(', ') || 'none'],
  ...(sender.monthly_credits
    ? [['A month', plural(sender.monthly_credits, 'credit')] as [string, React.ReactNode]]
    : []),
  ['Whose number it is', plural(sender.use.people, 'person', 'people')],
  ['Waiting to leave from it', count(sender.use.waiting)],
];

const changed = ({
  id,
  registration,
  parts_per_second: pace,
  daily_cap: cap,
  mms,
  carrier_id: carrier,
}: Standing) => ({
  ...{ id, registration, partsPerSecond: pace, dailyCap: cap, mms, carrier },
});

/** Nothing is begun from a number that rests; by hand as by rule. */
function Rest({ sender, zone }: { sender: Standing; zone: string }) {
  const {
    id,
    rested_at: rested,
    rest_until: until,
    rest_why: why,
    back_at: back,
    usual_a_day: usual,
  } = sender;
  if (rested)
    return (
      <Section title="It rests" note={until && `until ${dayAndTime(until, zone)}`}>
        <p className="mb-2 text-sm">
          Since {dayAndTime(rested, zone)}
          {why && `: ${why}`}. Nothing is begun from it. Whoever is texted meanwhile is told first which
          number comes instead, and keeps that one. What is written to it is heard and answered from it.
        </p>
        <PlainForm action={bringNumberBackAction} submit="Bring it back now" hidden={{ sender: id }} />
      </Section>
    );
  return (
    <Section title="Let it rest">
      {back && (
        <p className="mb-2 text-sm">
          It is back since {dayAndTime(back, zone)} and carries more by the day, up to {count(usual ?? 0)} a
          day as before.
        </p>
      )}
      <p className="mb-2 text-sm">
        Nothing is begun from it for some days. {plural(sender.use.people, 'person is', 'people are')} texted
        from it: whoever is texted meanwhile is told first which number comes instead.
      </p>
      <PlainForm
        action={restNumberAction}
        submit="Let it rest"
        hidden={{ sender: id }}
        fields={[
          { name: 'days', label: 'Days', initial: '7' },
          { name: 'why', label: 'Why', hint: 'For whoever looks at it later.', maxLength: 200 },
        ]}
      />
    </Section>
  );
}

function GiveBack({ sender: { id, use } }: { sender: Standing }) {
  const alone = use.programs.filter(({ others }) => others === 0);
  return (
    <Section title="Give it back">
      <p className="mb-2 text-sm">
        Nothing leaves from it any more. {plural(use.people, 'person is', 'people are')} texted from it and
        will be texted from another number of their program
        {use.waiting > 0 && `; so are ${plural(use.waiting, 'text')} that wait`}. What people still write to
        it is heard as long as the carrier passes it on.
      </p>
      {alone.length > 0 && (
        <p className="mb-2 text-sm text-bad">
          ✕ {alone.map(({ name }) => name).join(', ')} would have no registered number: nothing could leave.
        </p>
      )}
      <PlainForm action={releaseNumberAction} submit="Give it back" hidden={{ sender: id }} />
    </Section>
  );
}
