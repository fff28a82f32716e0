import type { Metadata } from 'next';
import Link from 'next/link';
import { readDraftChoices } from '@/services/sends/screen';
import { Empty, Page } from '@/ui/kit/page';
import { readScreen } from '../../../session';
import { saveDraftAction } from '../actions';
import { Draft } from '../draft';

export const metadata: Metadata = { title: 'Write a broadcast' };

export default async function NewSendPage({
  searchParams,
}: {
  searchParams: Promise<{ program?: string; audience?: string }>;
}) {
  const { program, audience = '' } = await searchParams;
  const { data, session } = await readScreen((scope, signedIn, now) =>
    readDraftChoices(scope, signedIn.accountId, now, audience),
  );
  const first = data.programs.find(({ id }) => id === program) ?? data.programs[0];
  return (
    <Page title="Write a broadcast">
      {first ? (
        <Draft
          initial={{
            ...{ id: null, program: first.id, audience: data.audience, name: '', body: '' },
            ...{ channel: 'sms', subject: '' },
          }}
          audiences={data.audiences}
          programs={data.programs}
          fields={data.fields}
          zone={session.workspaceZone}
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
