import { posterSvg } from '@/core/poster/svg';
import { parseJson } from '@/core/shared/json';
import { ok } from '@/core/shared/result';
import { notFound } from '@/services/kit/validation';
import { drawSaved, readPoster } from '@/services/posters/posters';
import { answerScreen } from '../read';

/** A poster as it is being worked on: how it looks, and what is wrong with it. */
export async function POST(request: Request): Promise<Response> {
  return answerScreen(request, async (scope, _, __, { id, document }) => {
    const given = parseJson(document ?? '');
    const read = await readPoster(scope, given.ok ? given.value : null);
    if (!read.ok) return read;
    const drawn = await drawSaved(scope, id ?? '', read.value);
    if (!drawn) return notFound('poster');
    const { layout, drawn: parts, findings } = drawn.ready;
    return ok({ svg: posterSvg(layout, parts), findings });
  });
}
