import { cleanText } from '@/core/shared/clean-text';
import { parseJson } from '@/core/shared/json';
import { getContext } from '@/services/runtime';
import { deskRequest } from '@/services/stacks/desk-request';
import { inStackOf } from '@/services/stacks/press';
import { readLimited } from '../../../read-limited';

const LARGEST = 32 * 1024;

/** What the desk of somebody asks who was invited by a link: it opens their own stack, and nothing else. */
export async function POST(
  request: Request,
  { params }: { params: Promise<{ key: string }> },
): Promise<Response> {
  const read = parseJson((await readLimited(request, LARGEST))?.toString('utf8') ?? '');
  if (!read.ok || typeof read.value !== 'object' || read.value === null || Array.isArray(read.value))
    return Response.json({ message: 'Send a JSON object.' }, { status: 400 });
  const body = Object.fromEntries(
    Object.entries(read.value).map(([name, one]) => [
      name,
      cleanText(typeof one === 'string' ? one : JSON.stringify(one)),
    ]),
  );
  const ctx = await getContext();
  const result = await inStackOf(ctx, (await params).key, (scope, stackId) =>
    deskRequest(ctx, scope, stackId, body),
  );
  if (!result) return Response.json({ message: 'This link has ended.' }, { status: 404 });
  return result.ok
    ? Response.json(result.value)
    : Response.json(
        { message: result.reason.problems.map(({ message }) => message).join(' ') },
        { status: 422 },
      );
}
