import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { may } from '@/core/access/roles';
import { CounterDesk } from '@/ui/offers/counter-desk';
import { requireSession } from '../session';
import { signOutAction } from '../sign-in/actions';

export const metadata: Metadata = { title: 'Counter' };

/** The page of a till, on a phone first. Whoever only has the role of the counter sees nothing else. */
export default async function CounterPage() {
  const session = await requireSession();
  return (
    <main id="main" className="mx-auto max-w-md px-4 py-5">
      <div className="mb-4 flex items-baseline justify-between gap-4 border-b border-ink pb-2">
        <h1>Counter</h1>
        <span className="truncate text-sm text-soft">
          {session.workspaceName}, {session.name.split(' ')[0]}
        </span>
      </div>
      <CounterDesk zone={session.workspaceZone} />
      <div className="mt-10 flex gap-4 border-t border-rule pt-3 text-sm">
        {may(session.role, 'read') && (
          <Link className="link" href="/programs/offers">
            Offers
          </Link>
        )}
        <form action={signOutAction}>
          <button className="link">Sign out</button>
        </form>
      </div>
    </main>
  );
}
