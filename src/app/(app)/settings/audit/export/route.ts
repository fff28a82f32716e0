import { may } from '@/core/access/roles';
import { auditFile, readAuditCut } from '@/services/access/audit';
import { getContext } from '@/services/runtime';
import { currentSession } from '../../../../session';

/** The audit as it is looked at, as a file. */
export async function GET(request: Request): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'manage-keys')) return new Response('Sign in again.', { status: 401 });
  const asked = Object.fromEntries(new URL(request.url).searchParams);
  const { orm } = await getContext();
  const body = auditFile(orm, session.workspaceId, readAuditCut(asked, session.workspaceZone));
  return new Response(body, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="audit.csv"',
    },
  });
}
