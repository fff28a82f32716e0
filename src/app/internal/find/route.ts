import { findAnything } from '@/services/screens';
import { answerScreen } from '../read';

export const GET = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope) => {
    const search = (new URL(request.url).searchParams.get('q') ?? '')
      .replaceAll('\u0000', '')
      .trim()
      .slice(0, 80);
    return { ok: true, value: search.length < 2 ? [] : await findAnything(scope, search) };
  });
