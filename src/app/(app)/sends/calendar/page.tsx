import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { overPromise, weeksFrom } from '@/core/broadcast/calendar';
import { DAY } from '@/core/shared/instant';
import { instantAt } from '@/core/shared/zone';
import { readCalendar } from '@/services/sends/calendar';
import { PlainForm } from '@/ui/kit/plain-form';
import { Page, Section } from '@/ui/kit/page';
import { Mark } from '@/ui/kit/mark';
import { plural } from '@/ui/kit/numbers';
import { SendsCalendar } from '@/ui/sends/sends-calendar';
import { readScreen } from '../../../session';
import { moveDaysAction, sendsCalendarAction } from '../calendar-actions';

export const metadata: Metadata = { title: 'Calendar of sends' };

const WEEKS = 5;

export default async function CalendarPage({ searchParams }: { searchParams: Promise<{ from?: string }> }) {
  const { from = '' } = await searchParams;
  const { data, session, now } = await readScreen(async (scope, { workspaceZone: zone, accountId }, at) => {
    const begin = /^\d{4}-\d{2}-\d{2}$/.test(from) && !Number.isNaN(Date.parse(from));
    const weeks = weeksFrom(zone, begin ? instantAt(from, '12:00', zone) : at - 7 * DAY, WEEKS);
    const span = { from: weeks[0]!.from, to: weeks[WEEKS - 1]!.to };
    return { weeks, ...(await readCalendar(scope, span, { now: at, zone, accountId })) };
  });
  const zone = session.workspaceZone;
  const first = data.weeks[0]!.days[0]!;
  const dayAt = (days: number) => new Date(Date.parse(first.date) + days * DAY).toISOString().slice(0, 10);
  return (
    <Page
      title="Calendar of sends"
      actions={
        <>
          <Link className="button" href={`/sends/calendar?from=${dayAt(-7 * (WEEKS - 1))}`}>
            Earlier
          </Link>
          <Link className="button" href="/sends/calendar">
            Now
          </Link>
          <Link className="button" href={`/sends/calendar?from=${dayAt(7 * (WEEKS - 1))}`}>
            Later
          </Link>
          <Link className="button button-main" href="/sends/new">
            Write a broadcast
          </Link>
        </>
      }
      margin={
        <>
          <Section title="Promised, and used up" note="this month">
            {data.promises.length === 0 ? (
              <p className="text-soft">No program promised a number.</p>
            ) : (
              <ul>
                {data.promises.map((use) => (
                  <li key={use.program} className="border-b border-rule py-1.5">
                    {use.program}: {use.sent} sent, {use.planned} planned of {use.promised} a {use.period}
                    {overPromise(use) > 0 && (
                      <>
                        {' '}
                        <Mark tone="bad">
                          {plural(overPromise(use), 'broadcast')} will be held for whoever got {use.promised}
                        </Mark>
                      </>
                    )}
                  </li>
                ))}
              </ul>
            )}
          </Section>
          <Section title="In your own calendar">
            <p className="mb-2 text-sm text-soft">
              {data.followed
                ? 'A calendar follows it. A new address ends the old one.'
                : 'An address that any calendar can follow; whoever has it sees names and times.'}
            </p>
            <PlainForm action={sendsCalendarAction} submit="Make an address" hidden={{ verb: 'new' }} />
            {data.followed && (
              <PlainForm action={sendsCalendarAction} submit="End the address" hidden={{ verb: 'end' }} />
            )}
          </Section>
        </>
      }
    >
      <SendsCalendar
        weeks={data.weeks}
        rows={data.rows.map(({ audience: _, at, ...row }) => ({ ...row, at: at.getTime() }))}
        {...{ zone, now }}
        move={moveDaysAction}
      />
    </Page>
  );
}
