import { personalPage } from '@/core/form/page';
import type { Problems, Typed } from '@/core/form/read';
import { readPersonalPage, submitPersonalPage } from '@/services/questions/personal-link';
import { getContext } from '@/services/runtime';
import { noSuchPage, publicPage, typedInto } from '../../public-page';

export const dynamic = 'force-dynamic';

interface Params {
  params: Promise<{ code: string }>;
}

const SCRIPT = '/f/form.js';

async function draw(code: string, typed: Typed, problems: Problems): Promise<Response> {
  const page = await readPersonalPage(await getContext(), code);
  if (!page) return noSuchPage();
  const status = Object.keys(problems).length > 0 ? 422 : page.state === 'expired' ? 410 : 200;
  return publicPage(personalPage({ ...page, typed, problems, script: SCRIPT }), status, { framed: false });
}

/** A form that knows who it is for. */
export const GET = async (_: Request, { params }: Params): Promise<Response> =>
  draw((await params).code, {}, {});

/** What they filled in. */
export async function POST(request: Request, { params }: Params): Promise<Response> {
  const typed = await typedInto(request);
  if (!typed) return new Response('Send the form as it is drawn.', { status: 415 });
  const { code } = await params;
  const sent = await submitPersonalPage(await getContext(), code, typed);
  return sent ? draw(code, typed, sent.problems) : noSuchPage();
}
