import { drawForm } from '@/services/forms/take-in';
import { getContext } from '@/services/runtime';
import { noSuchPage, publicPage } from '../../public-page';

export const dynamic = 'force-dynamic';

interface Params {
  params: Promise<{ code: string }>;
}

/** A form, for anybody. What is filled in is taken at the door: `src/web/form-door.ts`. */
export async function GET(_: Request, { params }: Params): Promise<Response> {
  const drawn = await drawForm(await getContext(), (await params).code);
  return drawn ? publicPage(drawn.html, drawn.status, { framed: true }) : noSuchPage();
}
