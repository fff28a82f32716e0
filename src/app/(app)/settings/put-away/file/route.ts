import { may } from '@/core/access/roles';
import { isDay } from '@/core/audience/days';
import { bundleFile } from '@/services/delivery/put-away';
import { getContext } from '@/services/runtime';
import { currentSession } from '../../../../session';

/** A month of messages that were put away, as they are kept: gzipped lines of JSON. */
export async function GET(request: Request): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'manage-keys')) return new Response('Sign in again.', { status: 401 });
  const month = new URL(request.url).searchParams.get('month') ?? '';
  const { orm } = await getContext();
  const body = isDay(month) ? await bundleFile(orm, session.workspaceId, month) : null;
  if (!body) return new Response('Nothing of that month is put away.', { status: 404 });
  return new Response(body, {
    headers: {
      'content-type': 'application/gzip',
      'content-disposition': `attachment; filename="messages-${month.slice(0, 7)}.jsonl.gz"`,
    },
  });
}
