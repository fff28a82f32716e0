import { keepPicture, LARGEST_PICTURE } from '@/services/media/pictures';
import { sentence } from '../../(app)/form-result';
import { fileNameOf } from '../../file-name';
import { readLimited } from '../../read-limited';
import { actorOf, change } from '../../session';

/** A picture as the body, its name in a header. */
export async function POST(request: Request): Promise<Response> {
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return Response.json({ message: 'Not from another site.' }, { status: 403 });
  const bytes = await readLimited(request, LARGEST_PICTURE);
  if (bytes === null)
    return Response.json({ message: 'It is larger than 12 MB. Make it smaller first.' }, { status: 413 });
  const name = fileNameOf(request.headers) || 'picture';
  const kept = await change('edit-programs', (scope, session, ctx) =>
    keepPicture(ctx, scope, { name, bytes }, actorOf(session)),
  );
  return kept.ok
    ? Response.json({ id: kept.value.id, name: kept.value.name }, { status: 201 })
    : Response.json(
        { message: sentence(kept.reason) },
        { status: kept.reason.code === 'forbidden' ? 403 : 422 },
      );
}
