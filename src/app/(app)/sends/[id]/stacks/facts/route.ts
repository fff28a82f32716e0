import { may } from '@/core/access/roles';
import { withWorkspace } from '@/services/runtime';
import { exportFacts } from '@/services/stacks/facts';
import { currentSession } from '../../../../../session';

/** What was learnt in a broadcast that was pressed by hand, person by person, as CSV. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'read')) return new Response('Sign in again.', { status: 401 });
  const { id } = await params;
  const csv = await withWorkspace(session.workspaceId, (scope) => exportFacts(scope, id));
  return new Response(`\uFEFF${csv}`, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="learnt.csv"',
      'cache-control': 'no-store',
    },
  });
}
