import { noteLink } from '@/services/questions/personal-link';
import { getContext } from '@/services/runtime';
import { typedInto } from '../../../public-page';

interface Params {
  params: Promise<{ code: string }>;
}

/** A browser drew a personal link, or somebody began to fill it in. */
export async function POST(request: Request, { params }: Params): Promise<Response> {
  const { furthest = '0' } = (await typedInto(request)) ?? {};
  await noteLink(await getContext(), (await params).code, Number(furthest) > 0 ? 'begun' : 'opened');
  return new Response(null, { status: 204 });
}
