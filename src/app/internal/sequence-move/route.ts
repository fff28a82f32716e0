import { readMove } from '@/services/sequences/screen';
import { getContext } from '@/services/runtime';
import { notFound } from '@/services/kit/validation';
import { answerScreen } from '../read';

export const POST = (request: Request): Promise<Response> =>
  answerScreen(request, async (scope, _session, _now, { id, all }) => {
    const move = await readMove(await getContext(), scope, id ?? '', all === 'yes');
    return move ? { ok: true, value: move } : notFound('sequence');
  });
