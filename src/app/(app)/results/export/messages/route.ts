import { may } from '@/core/access/roles';
import { MESSAGE_FORMATS, messagesFile } from '@/services/results/messages';
import { readQuery } from '@/services/results/reports';
import { getContext, withWorkspace } from '@/services/runtime';
import { currentSession } from '../../../../session';

/** Every message of the days a page of results is of, as a file the browser keeps. */
export async function GET(request: Request): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'send')) return new Response('Sign in again.', { status: 401 });
  const { searchParams } = new URL(request.url);
  const format = MESSAGE_FORMATS.find((one) => one === searchParams.get('format'));
  if (!format) return new Response('Choose csv or jsonl.', { status: 422 });
  const ctx = await getContext();
  const query = await withWorkspace(session.workspaceId, (scope) =>
    readQuery(scope, searchParams.toString(), ctx.now()),
  );
  if (!query.ok) return new Response(query.reason.problems[0]?.message ?? 'That cannot be.', { status: 422 });
  const file = messagesFile(ctx.orm, session.workspaceId, query.value.asked, format);
  return new Response(file.body, {
    headers: {
      'content-type': file.type,
      'content-disposition': `attachment; filename="${file.name}"`,
      'cache-control': 'no-store',
    },
  });
}
