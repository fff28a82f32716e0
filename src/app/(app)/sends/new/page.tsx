import { USUAL_LINKS } from '@/core/link/shorten';
import { hashOf } from '@/core/shared/hash';
import type { Metadata } from 'next';
import Link from 'next/link';
import { readChatChoices } from '@/services/chat/screen';
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
  searchParams: Promise<{ program?: string; audience?: string }>;
}) {
  const { program, audience = '' } = await searchParams;
  const { data, session } = await readScreen(async (scope, signedIn, now) => ({
    ...(await readDraftChoices(scope, signedIn.accountId, now)),
    chats: await readChatChoices(scope),
    own: await readOwnNumber({ now: () => now }, scope, signedIn.accountId),
  }));
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
              body: '',
            },
            ...{ channel: 'sms', subject: '', links: USUAL_LINKS, timing: USUAL_TIMING },
            ...{ others: [], repeat: '', template: null, comparison: USUAL_COMPARISON },
            ...{ files: [], instead: null, chatTemplate: '' },
          }}
          audience={{ segments: data.segments, askable: data.askable, keepSegment: keepSegmentAction }}
          programs={data.programs}
          fields={data.fields}
          own={data.own}
          tryActs={{ ask: askNumberAction, give: giveCodeAction, send: tryDraftAction }}
          kept={data.files}
          chats={data.chats}
          zone={session.workspaceZone}
          place={placeOf(program, audience)}
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

/** One for each way in: whoever comes with chosen people does not go on with what was meant for others. */
const placeOf = (program: string | undefined, audience: string): string =>
  program === undefined && audience === ''
    ? 'broadcast:new'
    : `broadcast:new-${hashOf(`${program ?? ''} ${audience}`)}`;
