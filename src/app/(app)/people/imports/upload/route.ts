import { sentence } from '../../../form-result';
import { createImport } from '@/services/imports/imports';
import { fileNameOf } from '../../../../file-name';
import { actorOf, change } from '../../../../session';

/** A file as the body, its name in a header: it is taken in as it comes and never held whole. */
export async function POST(request: Request): Promise<Response> {
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return Response.json({ message: 'Not from another site.' }, { status: 403 });
  const { body } = request;
  if (!body) return Response.json({ message: 'The file is empty.' }, { status: 422 });
  const name = fileNameOf(request.headers);
  const announced = announcedSize(request.headers);
  const result = await change('edit-people', (scope, session, ctx) =>
    createImport(
      ctx,
      scope,
      { name, announced, bytes: body as unknown as AsyncIterable<Uint8Array> },
      actorOf(session),
    ),
  );
  return result.ok
    ? Response.json({ id: result.value.id }, { status: 201 })
    : Response.json(
        { message: sentence(result.reason) },
        { status: result.reason.code === 'forbidden' ? 403 : 422 },
      );
}

/** How many bytes the file has, as its sender says; null where it says nothing. */
function announcedSize(headers: Headers): number | null {
  const said = headers.get('x-file-size') ?? headers.get('content-length') ?? '';
  return /^\d{1,15}$/.test(said) ? Number(said) : null;
}
