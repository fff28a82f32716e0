import { cutText } from '@/core/shared/clean-text';
import { findAnything } from '@/services/find';
import { answerScreen } from '../read';

export const GET = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, { accountId }) => {
    const search = cutText((new URL(request.url).searchParams.get('q') ?? '').trim(), 80);
    return { ok: true, value: search.length < 2 ? [] : await findAnything(scope, accountId, search) };
  });
