import { may } from '@/core/access/roles';
import { tablesAsFile, TABLE_FORMATS } from '@/services/results/export';
import { isReportPlace, readQuery } from '@/services/results/reports';
import { readTables } from '@/services/results/tables';
import { getContext, withWorkspace } from '@/services/runtime';
import { currentSession } from '../../../session';

/** A page of results as a file the browser keeps. */
export async function GET(request: Request): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'read')) return new Response('Sign in again.', { status: 401 });
  const { searchParams } = new URL(request.url);
  const [format, place] = [searchParams.get('format'), searchParams.get('place') ?? ''];
  const chosen = TABLE_FORMATS.find((one) => one === format);
  if (!chosen || !isReportPlace(place))
    return new Response('Choose csv, xlsx or jsonl, and a page.', { status: 422 });
  const ctx = await getContext();
  const tables = await withWorkspace(session.workspaceId, async (scope) => {
    const query = await readQuery(scope, searchParams.toString(), ctx.now());
    return query.ok ? readTables(scope, place, query.value.asked, query.value.more) : query;
  });
  if (!tables.ok)
    return new Response(tables.reason.problems[0]?.message ?? 'That cannot be.', { status: 422 });
  const file = await tablesAsFile(tables.value, chosen, `results-${place}`);
  return new Response(file.body as BodyInit, {
    headers: {
      'content-type': file.type,
      'content-disposition': `attachment; filename="${file.name}"`,
      'cache-control': 'no-store',
    },
  });
}
