import { keepReady, LARGEST_FILE, LARGEST_FILE_WORDS, readyFile } from '@/services/media/files';
import { keptFile } from '@/services/media/views';
import { sentence } from '../../(app)/form-result';
import { fileNameOf } from '../../file-name';
import { readLimited } from '../../read-limited';
import { actorOf, change, requireSession } from '../../session';

/** A file as the body, its name in a header. */
export async function POST(request: Request): Promise<Response> {
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return Response.json({ message: 'Not from another site.' }, { status: 403 });
  const bytes = await readLimited(request, LARGEST_FILE);
  if (bytes === null) return Response.json({ message: LARGEST_FILE_WORDS }, { status: 413 });
  const name = fileNameOf(request.headers) || 'picture';
  // Who answers takes pictures along, too. No picture is read for who is not signed in, and none within a transaction.
  await requireSession();
  const ready = await readyFile({ name, bytes });
  const kept = ready.ok
    ? await change('answer', (scope, session, ctx) => keepReady(ctx, scope, ready.value, actorOf(session)))
    : ready;
  return kept.ok
    ? Response.json(keptFile(kept.value), { status: 201 })
    : Response.json(
        { message: sentence(kept.reason) },
        { status: kept.reason.code === 'forbidden' ? 403 : 422 },
      );
}
