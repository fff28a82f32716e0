import { Readable } from 'node:stream';
import { MEDIA_KINDS } from '@/core/media/kinds';
import { publicFile } from '@/services/media/files';
import { openBytes } from '@/services/media/store';
import { getContext } from '@/services/runtime';

interface Params {
  params: Promise<{ id: string }>;
}

/** A file of a business, or one somebody sent; it never changes under its id. Only what browsers show safely is shown. */
export async function GET(_: Request, { params }: Params): Promise<Response> {
  const ctx = await getContext();
  const file = await publicFile(ctx, (await params).id);
  const bytes = file && (await openBytes(ctx, file.id));
  if (!bytes) return new Response('There is no such file.', { status: 404 });
  const shown = file.kind === 'picture' || file.kind === 'sound' || file.kind === 'film';
  return new Response(Readable.toWeb(bytes) as ReadableStream, {
    headers: {
      ...{ 'content-type': file.type, 'content-length': String(file.size) },
      'cache-control': 'public, max-age=31536000, immutable',
      'content-disposition': `${shown ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(file.name || MEDIA_KINDS[file.kind].word)}`,
      ...{ 'content-security-policy': `default-src 'none'; sandbox`, 'x-content-type-options': 'nosniff' },
      ...{ 'referrer-policy': 'no-referrer', 'x-robots-tag': 'noindex' },
    },
  });
}
