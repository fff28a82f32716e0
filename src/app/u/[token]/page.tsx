import type { Metadata } from 'next';
import { readLeavePage, STAY_WORDING } from '@/services/email/leave';
import { getContext } from '@/services/runtime';
import { leaveAction, stayAction } from './actions';

export const metadata: Metadata = { title: 'Leave', robots: { index: false } };

/** The page behind “Leave” in a letter. It says nothing of who they are: whoever has the link may see it. */
export default async function LeavePage({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params;
  const page = await readLeavePage(await getContext(), token);
  return (
    <main id="main" className="mx-auto max-w-md px-6 py-12">
      {page === null ? (
        <>
          <h1 className="mb-3">This link is no longer known</h1>
          <p className="text-soft">
            The letter it stood in is not on file any more, and nothing more is sent because of it.
          </p>
        </>
      ) : page.state === 'out' ? (
        <>
          <h1 className="mb-3">You have left {page.all ? page.business : page.program}</h1>
          <p className="mb-6">
            {page.business} sends no more e-mail{' '}
            {page.all ? 'to this address' : 'of this program to this address'}.
          </p>
          {!page.all && (
            <form action={leaveAction} className="mb-4">
              <input type="hidden" name="token" value={token} />
              <button className="button" name="all" value="1">
                Leave everything {page.business} sends by e-mail
              </button>
            </form>
          )}
          <form action={stayAction}>
            <input type="hidden" name="token" value={token} />
            <p className="mb-2 text-soft">It was a mistake?</p>
            <button className="button">{STAY_WORDING}</button>
          </form>
        </>
      ) : (
        <>
          <h1 className="mb-3">Leave {page.program}?</h1>
          <p className="mb-6">
            {page.business} sends it to this address by e-mail. It stops at once. Texts are another matter:
            answer STOP to one of them.
          </p>
          <form action={leaveAction} className="flex flex-wrap gap-3">
            <input type="hidden" name="token" value={token} />
            <button className="button button-main" name="all" value="">
              Leave {page.program}
            </button>
            <button className="button" name="all" value="1">
              Leave everything by e-mail
            </button>
          </form>
        </>
      )}
    </main>
  );
}
