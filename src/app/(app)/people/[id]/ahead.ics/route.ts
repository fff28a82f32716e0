import { readAhead } from '@/services/sequences/ahead';
import { aheadCalendar } from '@/services/sequences/calendar';
import { getContext } from '@/services/runtime';
import { readScreen } from '../../../../session';

/** What is ahead of somebody as an iCalendar file (RFC 5545). */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  const { data } = await readScreen(async (scope) => readAhead(await getContext(), scope, id));
  return new Response(aheadCalendar(data), {
    headers: {
      'content-type': 'text/calendar; charset=utf-8',
      'content-disposition': 'attachment; filename="ahead.ics"',
    },
  });
}
