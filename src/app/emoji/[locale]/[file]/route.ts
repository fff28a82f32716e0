import data from 'emojibase-data/en/data.json';
import messages from 'emojibase-data/en/messages.json';

const FILES: Record<string, unknown> = { 'data.json': data, 'messages.json': messages };

/** The names of emoji, for the picker; they ship with the application. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ locale: string; file: string }> },
): Promise<Response> {
  const { locale, file } = await params;
  const found = locale === 'en' ? FILES[file] : undefined;
  if (!found) return new Response('There is no such file.', { status: 404 });
  return Response.json(found, { headers: { 'cache-control': 'public, max-age=604800' } });
}
