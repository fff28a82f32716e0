import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { readFactor } from '@/services/access/second-factor';
import { getContext } from '@/services/runtime';
import { SecondFactor } from '@/ui/access/second-factor';
import { sessionByPassword } from '../session';
import { beginFactorAction, confirmFactorAction, dropFactorAction, renewCodesAction } from './actions';

export const metadata: Metadata = { title: 'Second factor' };

/** Where an owner sets one up whose workspace wants it, before anything else opens. */
export default async function SecondFactorPage() {
  const session = (await sessionByPassword()) ?? redirect('/sign-in');
  const factor = await readFactor(await getContext(), session.accountId);
  return (
    <main id="main" className="mx-auto max-w-xl px-6 py-10">
      <h1 className="mb-1">A second factor</h1>
      <p className="mb-6 border-b border-rule pb-3 text-soft">
        Owners of {session.workspaceName} sign in with their password and a code of an app.
      </p>
      <SecondFactor
        since={factor.since?.getTime() ?? null}
        codesLeft={factor.codesLeft}
        zone={session.workspaceZone}
        goOn="/"
        acts={{
          begin: beginFactorAction,
          confirm: confirmFactorAction,
          renew: renewCodesAction,
          drop: dropFactorAction,
        }}
      />
    </main>
  );
}
