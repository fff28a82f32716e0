import { getContext } from '@/services/runtime';
import { readCalendar } from '@/services/tasks/follow-calendar';

/** Somebody's open tasks for a calendar that follows them (RFC 5545). The key in the address is all that is asked. */
export async function GET(_: Request, { params }: { params: Promise<{ key: string }> }): Promise<Response> {
  const calendar = await readCalendar(await getContext(), (await params).key);
  return calendar === null
    ? new Response('There is no such calendar, or its address was ended.', { status: 404 })
    : new Response(calendar, {
        headers: { 'content-type': 'text/calendar; charset=utf-8', 'cache-control': 'no-store' },
      });
}
