import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { notFound } from 'next/navigation';
import { may } from '@/core/access/roles';
import { readSequenceScreen } from '@/services/sequences/screen';
import { getContext } from '@/services/runtime';
import { SequenceDesk } from '@/ui/sequences/sequence-desk';
import { SendLinks } from '@/ui/sends/send-links';
import { changeTargetAction } from '../../../sends/actions';
import { readScreen } from '../../../../session';
import { askNumberAction, endTrialAction, giveCodeAction, startTrialAction } from '../trial-actions';
import { moveSequenceAction, publishSequenceAction, saveSequenceAction } from '../actions';

export const metadata: Metadata = { title: 'Sequence' };

export default async function SequencePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const { data, session, now } = await readScreen(async (scope, { accountId }) =>
    readSequenceScreen(await getContext(), scope, id, accountId),
  );
  if (!data) notFound();
  const { sequence } = data;
  return (
    <main id="main" className="mx-auto max-w-(--page) px-4 py-5 sm:px-6">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <div>
          <p className="m-0 text-sm">
            <Link href="/programs/sequences" className="link">
              Sequences
            </Link>
          </p>
          <h1>{sequence.name}</h1>
        </div>
        <div className="flex flex-wrap gap-2">
          <Link href={`/programs/sequences/${id}/people`} className="button">
            Who is in it
          </Link>
          <a href={`/programs/sequences/${id}/document`} className="button" download>
            Take it as a file
          </a>
        </div>
      </div>
      <SequenceDesk
        key={`${sequence.version} ${sequence.state}`}
        sequence={sequence}
        names={data.names}
        choices={data.choices}
        askable={data.askable}
        result={data.result}
        forecast={data.forecast}
        warnings={data.warnings}
        begunBy={data.begunBy}
        mayEdit={may(session.role, 'edit-programs')}
        zone={session.workspaceZone}
        now={now}
        own={data.own}
        trial={data.trial}
        trialActs={{
          ask: askNumberAction,
          give: giveCodeAction,
          start: startTrialAction,
          end: endTrialAction,
        }}
        acts={{ save: saveSequenceAction, publish: publishSequenceAction, move: moveSequenceAction }}
      />
      <SendLinks links={data.links} action={changeTargetAction} />
    </main>
  );
}
