import { leaveByToken } from '@/services/email/leave';
import { getContext } from '@/services/runtime';

export const dynamic = 'force-dynamic';

interface Params {
  params: Promise<{ token: string }>;
}

/** The one click of a mail program: one POST, no sign-in, honoured at once (RFC 8058). */
export async function POST(_: Request, { params }: Params): Promise<Response> {
  const left = await leaveByToken(await getContext(), (await params).token, 'one-click', false);
  return new Response(left.ok ? 'You have left.' : 'There is no such letter.', {
    status: left.ok ? 200 : 404,
    headers: { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' },
  });
}

/** Scanners fetch every address they find: looking changes nothing and leads to the page that asks. */
export async function GET(_: Request, { params }: Params): Promise<Response> {
  const { token } = await params;
  return new Response(null, { status: 303, headers: { location: `/u/${encodeURIComponent(token)}` } });
}
