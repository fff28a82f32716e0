import { may } from '@/core/access/roles';
import { withWorkspace } from '@/services/runtime';
import { listTemplates, templatesDocument } from '@/services/templates/templates';
import { currentSession } from '../../../../session';

/** Every template somebody sees, as one document. */
export async function GET(): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'read')) return new Response('Sign in again.', { status: 401 });
  const document = await withWorkspace(session.workspaceId, async (scope) =>
    templatesDocument(await listTemplates(scope, session.accountId)),
  );
  return new Response(`${JSON.stringify(document, null, 2)}\n`, {
    headers: {
      'content-type': 'application/json',
      'content-disposition': 'attachment; filename="templates.json"',
      'cache-control': 'no-store',
    },
  });
}
