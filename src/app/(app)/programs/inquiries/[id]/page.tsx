import { group } from 'd3-array';
import type { Metadata } from 'next';
import { TABLE_FILES } from '@/core/import/file-format';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { readSource } from '@/services/inquiries/screen';
import { SourceDesk } from '@/ui/inquiries/source-desk';
import { Section } from '@/ui/kit/page';
import { PlainForm } from '@/ui/kit/plain-form';
import { plural } from '@/ui/kit/numbers';
import { dayAndTime } from '@/ui/kit/time';
import { readScreen } from '../../../../session';
import {
  closeSourceAction,
  dropArrivalAction,
  newKeyAction,
  playAgainAction,
  saveSourceAction,
  takeFileAction,
} from '../actions';

export const metadata: Metadata = { title: 'Source' };

type Screen = NonNullable<Awaited<ReturnType<typeof readSource>>>;

export default async function SourcePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session, now } = await readScreen((scope) => readSource(scope, id));
  if (!data) notFound();
  const { source } = data;
  const mayEdit = may(session.role, 'edit-programs');
  const zone = session.workspaceZone;
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-5 sm:px-6">
      <Link className="link text-sm" href="/programs/inquiries">
        Inquiries
      </Link>
      <h1 className="mb-4">
        {source.name}
        {source.closedAt && (
          <span className="text-soft">, closed since {dayAndTime(source.closedAt, zone)}</span>
        )}
      </h1>
      <SourceDesk
        source={{
          ...{ id, stamp: source.stamp, name: source.name, program: source.programId },
          ...{ mapping: source.mapping, assignment: source.assignment, signs: source.signs },
          ...{ signHeader: source.signHeader ?? '', wording: source.wording ?? '' },
          lettersFrom: source.lettersFrom.join(', '),
          cost: source.costCents === null ? '' : (source.costCents / 100).toFixed(2),
          ...{ labels: data.given, begins: data.begins },
        }}
        samples={data.samples}
        proposals={data.proposals.map(({ pointer, to, because }) => ({ pointer, to, because }))}
        proposed={data.proposed}
        own={data.own}
        zone={zone}
        now={now}
        choices={{
          ...{ programs: data.programs, labels: data.labels, sequences: data.sequences, team: data.team },
        }}
        mayEdit={mayEdit}
        save={saveSourceAction}
        margin={
          <>
            {data.unread.length > 0 && <Unread data={data} zone={zone} mayEdit={mayEdit} />}
            <Doors data={data} zone={zone} mayEdit={mayEdit} />
            {data.leftOut.length > 0 && <LeftOut data={data} zone={zone} mayEdit={mayEdit} />}
          </>
        }
      />
    </main>
  );
}

interface Part {
  data: Screen;
  zone: string;
  mayEdit: boolean;
}

function Doors({ data: { source, doors }, zone, mayEdit }: Part) {
  return (
    <Section title="Where it is sent to">
      <dl className="text-sm">
        <dt className="text-soft">Webhook: JSON, form data, XML, or values in the address</dt>
        <dd className="mb-2 font-mono [overflow-wrap:anywhere]">{doors.webhook}</dd>
        <dt className="text-soft">Mailbox, for portals that write letters</dt>
        <dd className="mb-2 font-mono [overflow-wrap:anywhere]">{doors.mailbox}</dd>
        {source.signs !== 'nothing' && (
          <>
            <dt className="text-soft">Secret for the signature</dt>
            <dd className="mb-2 font-mono [overflow-wrap:anywhere]">{source.secret}</dd>
          </>
        )}
      </dl>
      {source.oldKeyUntil && (
        <p className="text-sm text-wait">
          The address before counts until {dayAndTime(source.oldKeyUntil, zone)}.
        </p>
      )}
      {source.oldSecretUntil && (
        <p className="text-sm text-wait">
          The secret before counts until {dayAndTime(source.oldSecretUntil, zone)}.
        </p>
      )}
      {mayEdit && !source.closedAt && (
        <PlainForm action={takeFileAction} submit="Take the file in" hidden={{ id: source.id }}>
          <label className="mb-2 block text-sm text-soft">
            Or a file, one inquiry a row (CSV, Excel)
            <input type="file" name="file" accept={TABLE_FILES} className="mt-1 block w-full text-ink" />
          </label>
        </PlainForm>
      )}
      {mayEdit && (
        <div className="mt-2 flex flex-wrap gap-2">
          <PlainForm action={newKeyAction} submit="New address" hidden={{ id: source.id, of: 'address' }} />
          {source.signs !== 'nothing' && (
            <PlainForm action={newKeyAction} submit="New secret" hidden={{ id: source.id, of: 'secret' }} />
          )}
          <PlainForm
            action={closeSourceAction}
            submit={source.closedAt ? 'Open it again' : 'Close it'}
            hidden={{ id: source.id, stamp: String(source.stamp), closed: source.closedAt ? 'no' : 'yes' }}
          />
        </div>
      )}
    </Section>
  );
}

function Unread({ data: { source, unread }, zone, mayEdit }: Part) {
  return (
    <Section title="Could not be read" note={plural(unread.length, 'that came', 'that came')}>
      <p className="mb-2 text-sm text-soft">
        Nothing is lost: mend where the values go, save, and they are read again by themselves.
      </p>
      <ByReason
        arrivals={unread}
        zone={zone}
        act={(those) =>
          mayEdit && (
            <PlainForm
              action={dropArrivalAction}
              submit={those.length === 1 ? 'Leave it out' : `Leave these ${those.length} out`}
              hidden={{ arrivals: idsOf(those) }}
            />
          )
        }
      />
      {mayEdit && <PlainForm action={playAgainAction} submit="Read them again" hidden={{ id: source.id }} />}
    </Section>
  );
}

/** What nothing followed from: a human may see that somebody did ask by it. */
function LeftOut({ data: { source, leftOut }, zone, mayEdit }: Part) {
  return (
    <Section title="Left out" note="the newest">
      <ByReason
        arrivals={leftOut}
        zone={zone}
        act={(those) =>
          mayEdit && (
            <PlainForm
              action={playAgainAction}
              submit={those.length === 1 ? 'Read it all the same' : `Read these ${those.length} all the same`}
              hidden={{ id: source.id, arrivals: idsOf(those) }}
            />
          )
        }
      />
    </Section>
  );
}

type Arrivals = Screen['unread'];

const idsOf = (arrivals: Arrivals): string => arrivals.map(({ id }) => id).join(' ');

/** What came, by why it stands there, and what may be done about those of one reason. */
function ByReason({
  arrivals,
  zone,
  act,
}: {
  arrivals: Arrivals;
  zone: string;
  act(those: Arrivals): React.ReactNode;
}) {
  return (
    <ul className="mb-2">
      {[...group(arrivals, ({ because }) => because ?? '')].map(([because, those]) => (
        <li key={because} className="border-b border-rule py-1.5 text-sm">
          <span className="text-soft">
            {those.length === 1 ? dayAndTime(new Date(those[0]!.at), zone) : `${those.length} times`}:
          </span>{' '}
          {because}
          {act(those)}
        </li>
      ))}
    </ul>
  );
}
