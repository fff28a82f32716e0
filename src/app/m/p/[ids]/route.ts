import { mediaPage } from '@/core/media/page';
import { businessOf, filesOfPage } from '@/services/media/files';
import { getContext } from '@/services/runtime';

interface Params {
  params: Promise<{ ids: string }>;
}

/** The files of one text, for who could not be sent them. Ids are nothing to guess. */
export async function GET(_: Request, { params }: Params): Promise<Response> {
  const ctx = await getContext();
  const files = await filesOfPage(ctx, (await params).ids.split('.'));
  const [first] = files;
  if (!first) return new Response('There is no such page.', { status: 404 });
  const theirs = files.filter((file) => file.workspace_id === first.workspace_id);
  return new Response(mediaPage(await businessOf(ctx, first.workspace_id), theirs), {
    headers: {
      ...{ 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' },
      'content-security-policy': `default-src 'none'; img-src 'self'; media-src 'self'; style-src 'unsafe-inline'; frame-ancestors 'none'`,
      ...{ 'x-content-type-options': 'nosniff', 'referrer-policy': 'no-referrer', 'x-robots-tag': 'noindex' },
    },
  });
}
