import { getContext } from '@/services/runtime';
import { followSends } from '@/services/sends/calendar';

/** What was sent and will be, for a calendar that follows it (RFC 5545). The key in the address is all that is asked. */
export async function GET(_: Request, { params }: { params: Promise<{ key: string }> }): Promise<Response> {
  const calendar = await followSends(await getContext(), (await params).key);
  return calendar === null
    ? new Response('There is no such calendar, or its address was ended.', { status: 404 })
    : new Response(calendar, {
        headers: { 'content-type': 'text/calendar; charset=utf-8', 'cache-control': 'no-store' },
      });
}
