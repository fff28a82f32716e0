import { readPicture } from '@/services/media/pictures';
import { getContext } from '@/services/runtime';

interface Params {
  params: Promise<{ id: string }>;
}

/** A picture of a business; it never changes under its id. */
export async function GET(_: Request, { params }: Params): Promise<Response> {
  const picture = await readPicture(await getContext(), (await params).id);
  if (!picture) return new Response('There is no such picture.', { status: 404 });
  return new Response(new Uint8Array(picture.bytes), {
    headers: {
      ...{ 'content-type': picture.type, 'cache-control': 'public, max-age=31536000, immutable' },
      ...{ 'content-security-policy': `default-src 'none'`, 'x-content-type-options': 'nosniff' },
    },
  });
}
