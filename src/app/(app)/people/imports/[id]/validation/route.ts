import { may } from '@/core/access/roles';
import { validationFile } from '@/services/imports/screen';
import { getContext } from '@/services/runtime';
import { currentSession } from '../../../../../session';

/** One line for each row of the file: what it turned out to be, and why. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'read')) return new Response('Sign in again.', { status: 401 });
  const { id } = await params;
  const file = await validationFile((await getContext()).orm, session.workspaceId, id);
  if (!file) return new Response('Nothing here.', { status: 404 });
  return new Response(file.body, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': `attachment; filename="validation-${id}.csv"`,
    },
  });
}
