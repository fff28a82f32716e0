import { noteSeen } from '@/services/forms/take-in';
import { getContext } from '@/services/runtime';
import { typedInto } from '../../../public-page';

interface Params {
  params: Promise<{ code: string }>;
}

/** A browser drew a form, or somebody came so far in it. */
export async function POST(request: Request, { params }: Params): Promise<Response> {
  const { press = '', furthest = '' } = (await typedInto(request)) ?? {};
  await noteSeen(await getContext(), (await params).code, { press, furthest: Number(furthest || NaN) });
  return new Response(null, { status: 204 });
}
