import { notFound } from 'next/navigation';
import { exportSequence } from '@/services/sequences/sequences';
import { readScreen } from '../../../../../session';

/** The document as a file, with the names of what it refers to. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  const { data } = await readScreen((scope) => exportSequence(scope, id));
  if (!data) notFound();
  const name = data.name.replace(/[^\w -]+/g, '').trim() || 'sequence';
  return new Response(JSON.stringify(data, null, 2), {
    headers: {
      'content-type': 'application/json; charset=utf-8',
      'content-disposition': `attachment; filename="${name}.json"`,
    },
  });
}
