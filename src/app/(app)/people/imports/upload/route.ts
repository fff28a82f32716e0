import { sentence } from '../../../form-result';
import { ok } from '@/core/shared/result';
import { createImport } from '@/services/imports/imports';
import { spooled } from '@/services/imports/spool';
import type { Refusal } from '@/services/kit/validation';
import { fileNameOf } from '../../../../file-name';
import { actorOf, change } from '../../../../session';

/** A file as the body, its name in a header: it is taken in as it comes and never held whole in memory. */
export async function POST(request: Request): Promise<Response> {
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return Response.json({ message: 'Not from another site.' }, { status: 403 });
  const { body } = request;
  if (!body) return Response.json({ message: 'The file is empty.' }, { status: 422 });
  const name = fileNameOf(request.headers);
  const announced = announcedSize(request.headers);
  // Whether they may is asked before a byte is taken in, and again when the file is there.
  const allowed = await change('edit-people', () => Promise.resolve(ok(null)));
  if (!allowed.ok) return refusedWith(allowed.reason);
  const result = await spooled(body as unknown as AsyncIterable<Uint8Array>, (bytes) =>
    change('edit-people', (scope, session, ctx) =>
      createImport(ctx, scope, { name, announced, bytes }, actorOf(session)),
    ),
  );
  return result.ok ? Response.json({ id: result.value.id }, { status: 201 }) : refusedWith(result.reason);
}

const refusedWith = (reason: Refusal): Response =>
  Response.json({ message: sentence(reason) }, { status: reason.code === 'forbidden' ? 403 : 422 });

/** How many bytes the file has, as its sender says; null where it says nothing. */
function announcedSize(headers: Headers): number | null {
  const said = headers.get('x-file-size') ?? headers.get('content-length') ?? '';
  return /^\d{1,15}$/.test(said) ? Number(said) : null;
}
