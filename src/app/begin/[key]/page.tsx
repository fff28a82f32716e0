import type { Metadata } from 'next';
import { Link } from '@/ui/kit/link';
import { getContext } from '@/services/runtime';
import { isFirstDoor } from '@/services/team/first-door';
import { MoveInForm } from '@/ui/team/door-forms';
import { beginAction } from '../../join/actions';

export const metadata: Metadata = { title: 'Moving in' };

export default async function BeginPage({ params }: { params: Promise<{ key: string }> }) {
  const { key } = await params;
  const open = await isFirstDoor(await getContext(), key);
  return (
    <main id="main" className="mx-auto max-w-3xl px-6 py-10">
      <h1 className="mb-1">Moving in</h1>
      {open ? (
        <>
          <p className="mb-6 border-b border-rule pb-3 text-soft">
            You are the first here, so this makes your workspace and you its owner. Everything can be changed
            later. What is still missing before the first text stands on the next page.
          </p>
          <MoveInForm action={beginAction} linkKey={key} />
        </>
      ) : (
        <p className="border-b border-rule pb-3 text-soft">
          This address leads nowhere: somebody has moved in, or it was printed anew at the last start.{' '}
          <Link className="link" href="/sign-in">
            Sign in
          </Link>
          , or look at what the start command printed last.
        </p>
      )}
    </main>
  );
}
