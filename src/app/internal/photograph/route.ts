import { may } from '@/core/access/roles';
import { LARGEST_FILE, LARGEST_FILE_WORDS } from '@/services/media/files';
import { PHOTOGRAPH_WORDS, readPhotograph } from '@/services/media/read-photograph';
import { readLimited } from '../../read-limited';
import { currentSession } from '../../session';

/** The words on a photograph of a poster. */
export async function POST(request: Request): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'read'))
    return Response.json({ message: 'Sign in again.' }, { status: 401 });
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return Response.json({ message: 'Not from another site.' }, { status: 403 });
  const bytes = await readLimited(request, LARGEST_FILE);
  if (bytes === null) return Response.json({ message: LARGEST_FILE_WORDS }, { status: 413 });
  const read = await readPhotograph(bytes);
  return read.ok
    ? Response.json({ text: read.value })
    : Response.json({ message: PHOTOGRAPH_WORDS[read.reason] }, { status: 422 });
}
