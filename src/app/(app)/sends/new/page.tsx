import { USUAL_LINKS } from '@/core/link/shorten';
import { hashOf } from '@/core/shared/hash';
import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { readChatChoices } from '@/services/chat/screen';
import { readRecordingChoices } from '@/services/voicemail/screen';
import { readDraftChoices } from '@/services/sends/screen';
import { readOwnNumber } from '@/services/sequences/own-number';
import { USUAL_COMPARISON, USUAL_TIMING } from '@/ui/sends/draft-values';
import { Empty, Page } from '@/ui/kit/page';
import { readScreen } from '../../../session';
import { askNumberAction, giveCodeAction } from '../../programs/sequences/trial-actions';
import { readCondition } from '@/services/audience/audience';
import { keepSegmentAction, saveDraftAction, tryDraftAction } from '../actions';
import { Draft } from '../draft';

export const metadata: Metadata = { title: 'Write a broadcast' };

export default async function NewSendPage({
  searchParams,
}: {
  searchParams: Promise<{ program?: string; audience?: string; recording?: string; channel?: string }>;
}) {
  const { program, audience = '', recording, channel } = await searchParams;
  const { data, session } = await readScreen(async (scope, signedIn, now) => ({
    ...(await readDraftChoices(scope, signedIn.accountId, now)),
    chats: await readChatChoices(scope),
    recordings: await readRecordingChoices(scope),
    own: await readOwnNumber({ now: () => now }, scope, signedIn.accountId),
  }));
  const chosen = data.recordings.find(({ id }) => id === recording);
  const byVoice = chosen !== undefined || channel === 'voicemail';
  const first = data.programs.find(({ id }) => id === program) ?? data.programs[0];
  return (
    <Page title="Write a broadcast">
      {first ? (
        <Draft
          initial={{
            ...{
              id: null,
              program: first.id,
              audience: readCondition(audience).ok ? audience : '',
              name: '',
              body: chosen?.words ?? '',
            },
            ...{ channel: byVoice ? 'voicemail' : 'sms', subject: '', links: USUAL_LINKS },
            timing: byVoice ? IN_WAVES : USUAL_TIMING,
            ...{ others: [], repeat: '', template: null, comparison: USUAL_COMPARISON },
            ...{ files: [], instead: null, companion: null, chatTemplate: '', recording: chosen?.id ?? '' },
          }}
          audience={{ segments: data.segments, askable: data.askable, keepSegment: keepSegmentAction }}
          programs={data.programs}
          fields={data.fields}
          own={data.own}
          tryActs={{ ask: askNumberAction, give: giveCodeAction, send: tryDraftAction }}
          kept={data.files}
          chats={data.chats}
          recordings={data.recordings}
          zone={session.workspaceZone}
          place={placeOf(program, audience, chosen?.id ?? channel)}
          save={saveDraftAction}
        />
      ) : (
        <Empty>
          A broadcast goes to the members of a program. <Link href="/programs/new">Make a program</Link>{' '}
          first.
        </Empty>
      )}
    </Page>
  );
}

/** A voicemail brings calls back: as long as nobody says otherwise, no more than can be taken. */
const IN_WAVES = { ...USUAL_TIMING, pace: { ...USUAL_TIMING.pace, kind: 'phones' as const } };

/** One for each way in: whoever comes with chosen people does not go on with what was meant for others. */
const placeOf = (program: string | undefined, audience: string, said: string | undefined): string =>
  program === undefined && audience === '' && said === undefined
    ? 'broadcast:new'
    : `broadcast:new-${hashOf([program ?? '', audience, ...(said === undefined ? [] : [said])].join(' '))}`;
