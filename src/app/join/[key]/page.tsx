import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { ROLE_WORDS } from '@/core/access/roles';
import { getContext } from '@/services/runtime';
import { readInvitation } from '@/services/team/invitations';
import { JoinForm } from '@/ui/team/door-forms';
import { joinAction } from '../actions';

export const metadata: Metadata = { title: 'You are invited' };

export default async function JoinPage({ params }: { params: Promise<{ key: string }> }) {
  const { key } = await params;
  const open = await readInvitation(await getContext(), key);
  return (
    <main id="main" className="mx-auto grid min-h-screen max-w-md content-center px-6 py-10">
      <h1 className="mb-1">{open ? open.business : 'Steady Wren'}</h1>
      {open ? (
        <>
          <p className="mb-6 border-b border-rule pb-3 text-soft">
            You are invited as {ROLE_WORDS[open.role].word}: {ROLE_WORDS[open.role].means}. You sign in with{' '}
            {open.email}.
          </p>
          <JoinForm action={joinAction} linkKey={key} name={open.name} known={open.known} />
        </>
      ) : (
        <p className="border-b border-rule pb-3 text-soft">
          This link leads nowhere: it was used, taken back, or is older than seven days. Ask for a new one, or{' '}
          <Link className="link" href="/sign-in">
            sign in
          </Link>
          .
        </p>
      )}
    </main>
  );
}
