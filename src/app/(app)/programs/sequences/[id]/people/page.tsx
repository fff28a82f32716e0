import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { readPeopleAt, readSequenceName } from '@/services/sequences/screen';
import { ListTable } from '@/ui/kit/list-table';
import { Mark } from '@/ui/kit/mark';
import { Page } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../../session';
import { enrolmentAction } from '../../actions';

export const metadata: Metadata = { title: 'Who is in it' };

interface Asked {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ line?: string; sort?: string }>;
}

export default async function SequencePeoplePage({ params, searchParams }: Asked) {
  const { id } = await params;
  const { line, sort } = await searchParams;
  const { data, session, now } = await readScreen(async (scope) => ({
    name: await readSequenceName(scope, id),
    people: await readPeopleAt(scope, id, line ?? null),
  }));
  if (data.name === null) notFound();
  const zone = session.workspaceZone;
  return (
    <Page
      title={
        <>
          Who is in{' '}
          <Link href={`/programs/sequences/${id}`} className="link">
            {data.name}
          </Link>
        </>
      }
    >
      {line && (
        <p className="mb-3 text-sm text-soft">
          At one line.{' '}
          <Link className="link" href={`/programs/sequences/${id}/people`}>
            Everybody
          </Link>
        </p>
      )}
      <ListTable
        label="People in this sequence"
        rows={data.people}
        rowKey={({ enrolment_id }) => enrolment_id}
        sort={sort}
        sortHref={(by) => `/programs/sequences/${id}/people?${line ? `line=${line}&` : ''}sort=${by}`}
        columns={[
          {
            title: 'Person',
            cell: ({ person_id, name }) => (
              <Link className="link" href={`/people/${person_id}`}>
                {name}
              </Link>
            ),
            by: ({ name }) => name,
          },
          {
            title: 'Next',
            kind: 'when',
            cell: ({ state, due_at }) =>
              state === 'sending' ? (
                <Mark tone="wait">a message is on its way</Mark>
              ) : due_at === null ? null : (
                dayAndTime(due_at.getTime(), zone)
              ),
            by: ({ due_at }) => due_at?.getTime() ?? null,
          },
          {
            title: 'Came in',
            kind: 'when',
            cell: ({ began_at }) => dayAndTime(began_at.getTime(), zone),
            by: ({ began_at }) => began_at.getTime(),
          },
          { title: 'Version', kind: 'number', cell: ({ version }) => version },
          {
            title: 'Held',
            kind: 'act',
            cell: ({ enrolment_id, not_before }) =>
              not_before !== null && not_before.getTime() > now ? (
                <>
                  until {dayAndTime(not_before.getTime(), zone)}
                  <PlainForm
                    action={enrolmentAction}
                    submit="Let them go on"
                    hidden={{ enrolment: enrolment_id, verb: 'go-on' }}
                  />
                </>
              ) : (
                <details>
                  <summary className="link cursor-pointer">Hold …</summary>
                  <PlainForm
                    action={enrolmentAction}
                    submit="Hold them"
                    hidden={{ enrolment: enrolment_id, verb: 'hold' }}
                    fields={[{ name: 'until', label: 'Until', type: 'date' }]}
                  />
                </details>
              ),
          },
          {
            title: 'Skip',
            kind: 'act',
            quiet: true,
            cell: ({ enrolment_id }) => (
              <PlainForm
                action={enrolmentAction}
                submit="Skip next"
                hidden={{ enrolment: enrolment_id, verb: 'skip' }}
              />
            ),
          },
          {
            title: 'Take out',
            kind: 'act',
            quiet: true,
            cell: ({ enrolment_id }) => (
              <PlainForm
                action={enrolmentAction}
                submit="Take out"
                hidden={{ enrolment: enrolment_id, verb: 'take-out' }}
              />
            ),
          },
        ]}
        empty="Nobody is in it now."
      />
    </Page>
  );
}
