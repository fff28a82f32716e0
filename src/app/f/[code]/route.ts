import { drawForm, takeIn, type Answered } from '@/services/forms/take-in';
import { getContext } from '@/services/runtime';
import { ADDRESS_HEADER } from '../../address-header';
import { noSuchPage, publicPage, typedInto } from '../../public-page';

export const dynamic = 'force-dynamic';

interface Params {
  params: Promise<{ code: string }>;
}

const shown = (answered: Answered | null): Response =>
  answered ? publicPage(answered.html, answered.status, { framed: true }) : noSuchPage();

/** A form, for anybody. */
export async function GET(_: Request, { params }: Params): Promise<Response> {
  return shown(await drawForm(await getContext(), (await params).code));
}

/** What was filled in. Sent twice it is kept once. */
export async function POST(request: Request, { params }: Params): Promise<Response> {
  const typed = await typedInto(request);
  if (!typed) return new Response('Send the form as it is drawn.', { status: 415 });
  const origin = {
    address: request.headers.get(ADDRESS_HEADER) ?? 'unknown',
    agent: request.headers.get('user-agent') ?? '',
  };
  return shown(await takeIn(await getContext(), (await params).code, typed, origin));
}
