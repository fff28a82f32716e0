import { followLink } from '@/services/email/follow-link';
import { getContext } from '@/services/runtime';

export const dynamic = 'force-dynamic';

interface Params {
  params: Promise<{ code: string }>;
}

async function follow(request: Request, { params }: Params): Promise<Response> {
  const { code } = await params;
  const url = await followLink(await getContext(), code, {
    agent: request.headers.get('user-agent') ?? '',
    head: request.method === 'HEAD',
  });
  if (!url) return new Response('There is no such link.', { status: 404 });
  return new Response(null, { status: 302, headers: { location: url, 'cache-control': 'no-store' } });
}

/** Where a link of a letter leads; that somebody came is noted on the way. */
export const GET = follow;
export const HEAD = follow;
