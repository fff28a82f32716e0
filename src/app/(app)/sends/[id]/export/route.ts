import { may } from '@/core/access/roles';
import { exportResult, RESULT_FORMATS } from '@/services/sends/export-result';
import { getContext } from '@/services/runtime';
import { currentSession } from '../../../../session';

/** Everybody of a broadcast and what became of it, as a file the browser keeps. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'read')) return new Response('Sign in again.', { status: 401 });
  const wanted = new URL(request.url).searchParams.get('format');
  const format = RESULT_FORMATS.find((one) => one === wanted);
  if (!format) return new Response('Choose csv, xlsx or json.', { status: 422 });
  const { orm } = await getContext();
  const file = await exportResult(orm, session.workspaceId, (await params).id, format);
  if (!file.ok) {
    const status = file.reason.code === 'not-found' ? 404 : 422;
    return new Response(file.reason.problems[0]?.message ?? 'There is no such broadcast.', { status });
  }
  return new Response(file.value.body as BodyInit, {
    headers: {
      'content-type': file.value.type,
      'content-disposition': `attachment; filename="${file.value.name}"`,
      'cache-control': 'no-store',
    },
  });
}
