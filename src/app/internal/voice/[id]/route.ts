import { readSoundOf } from '@/services/voicemail/screen';
import { readScreen } from '../../../session';

/** The sound of a recording of one's own workspace. Never changes, so that it is fetched once. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  const { data: bytes } = await readScreen((scope) => readSoundOf(scope, id));
  if (!bytes) return new Response(null, { status: 404 });
  return new Response(new Uint8Array(bytes), {
    headers: {
      ...{ 'content-type': 'audio/wav', 'content-length': String(bytes.length) },
      ...{ 'cache-control': 'private, max-age=31536000, immutable', 'x-content-type-options': 'nosniff' },
    },
  });
}
