import { SHEETS } from '@/core/poster/document';
import { drawSaved } from '@/services/posters/posters';
import { FILE_TYPES, posterFile, type FileKind } from '@/services/posters/files';
import { readScreen } from '../../../../../session';

interface Params {
  params: Promise<{ id: string }>;
}

/** A poster as a file: SVG, PNG or PDF. */
export async function GET(request: Request, { params }: Params): Promise<Response> {
  const { id } = await params;
  const kind = new URL(request.url).searchParams.get('kind') ?? '';
  if (!Object.hasOwn(FILE_TYPES, kind)) return new Response('kind: svg, png or pdf.', { status: 400 });
  const { data } = await readScreen((scope) => drawSaved(scope, id, null));
  if (!data) return new Response('There is no such poster.', { status: 404 });
  const file = await posterFile(data.ready, kind as FileKind);
  const name = `poster-${SHEETS[data.document.sheet].words.replace(/[^a-z0-9]+/gi, '-').toLowerCase()}.${kind}`;
  return new Response(new Uint8Array(file), {
    headers: {
      'content-type': FILE_TYPES[kind as FileKind],
      'content-disposition': `attachment; filename="${name}"`,
      'cache-control': 'no-store',
    },
  });
}
