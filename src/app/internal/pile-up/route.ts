import { ok } from '@/core/shared/result';
import { invalid } from '@/services/kit/validation';
import { readPileUp } from '@/services/sends/calendar';
import { answerScreen } from '../read';

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, _, now, body) => {
    const [from, to] = [Number(body.from), Number(body.to)];
    if (!Number.isSafeInteger(from) || !Number.isSafeInteger(to) || to - from > 8 * 86_400_000 || to <= from)
      return invalid('from', 'from: must be a week.');
    return ok(await readPileUp(scope, Math.max(from, now), to, now));
  });
