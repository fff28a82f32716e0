import { calendarOf } from '@/services/tasks/calendar';
import { openTasks } from '@/services/tasks/tasks';
import { readScreen } from '../../../session';

/** Open tasks as an iCalendar file (RFC 5545). */
export async function GET(request: Request): Promise<Response> {
  const url = new URL(request.url);
  const all = url.searchParams.get('whose') === 'all';
  const { data } = await readScreen((scope, { accountId }) => openTasks(scope, all ? null : accountId));
  return new Response(
    calendarOf('Tasks', data, (id) => `${url.origin}/people/${id}`),
    {
      headers: {
        'content-type': 'text/calendar; charset=utf-8',
        'content-disposition': 'attachment; filename="tasks.ics"',
      },
    },
  );
}
