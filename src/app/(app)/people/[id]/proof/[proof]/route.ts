import { may } from '@/core/access/roles';
import { proofAsPdf } from '@/services/results/proof-pdf';
import { shownProof } from '@/services/results/proofs';
import { publicUrl } from '@/services/kit/settings';
import { withWorkspace } from '@/services/runtime';
import { currentSession } from '../../../../../session';

/** A proof as JSON or PDF. */
export async function GET(
  request: Request,
  { params }: { params: Promise<{ proof: string }> },
): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'answer')) return new Response('Sign in again.', { status: 401 });
  const { proof: id } = await params;
  const proof = await withWorkspace(session.workspaceId, (scope) => shownProof(scope, id));
  if (!proof.ok) return new Response('There is no such proof any more.', { status: 404 });
  const isPdf = new URL(request.url).searchParams.get('format') === 'pdf';
  const body = isPdf
    ? await proofAsPdf(proof.value, id, `${publicUrl()}/proof/${id}`)
    : JSON.stringify(proof.value, null, 2);
  return new Response(body as BodyInit, {
    headers: {
      'content-type': isPdf ? 'application/pdf' : 'application/json; charset=utf-8',
      'content-disposition': `attachment; filename="proof-${id}.${isPdf ? 'pdf' : 'json'}"`,
      'cache-control': 'no-store',
    },
  });
}
