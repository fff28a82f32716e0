import { may } from '@/core/access/roles';
import { exportPerson } from '@/services/people/export-people';
import { withWorkspace } from '@/services/runtime';
import { currentSession } from '../../../../session';

export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'edit-people')) return new Response('Sign in again.', { status: 401 });
  const { id } = await params;
  const data = await withWorkspace(session.workspaceId, (scope) => exportPerson(scope, id));
  if (!data) return new Response('Nothing here.', { status: 404 });
  return new Response(JSON.stringify(data, null, 2), {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': `attachment; filename="${id}.json"`,
    },
  });
}
