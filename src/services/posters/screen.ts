import { posterSvg } from '@/core/poster/svg';
import { Form } from '@/db/forms/entities';
import type { Scope } from '@/db/kit/scope';
import { Poster } from '@/db/posters/entities';
import { KeywordRow } from '@/db/programs/entities';
import { keptPictures } from '@/services/media/files';
import { drawPoster } from './draw';

/** Everything the page of a poster shows. */
export async function readPosterScreen(scope: Scope, id: string) {
  const poster = await scope.em.findOne(Poster, { id });
  const ready = poster && (await drawPoster(scope, poster, poster.document));
  if (!poster || !ready) return null;
  const pictures = await keptPictures(scope);
  return {
    poster,
    of: await subjectLink(scope, poster),
    pictures: pictures.map(({ id: key, name }) => ({ id: key, name })),
    svg: posterSvg(ready.layout, ready.drawn),
    findings: ready.findings,
  };
}

async function subjectLink(
  scope: Scope,
  { keywordId, formId }: Poster,
): Promise<{ name: string; href: string }> {
  if (keywordId !== null) {
    const { word } = await scope.em.findOneOrFail(KeywordRow, { id: keywordId });
    return { name: word.toUpperCase(), href: `/programs/keywords/${keywordId}` };
  }
  const { id, name } = await scope.em.findOneOrFail(Form, { id: formId! });
  return { name, href: `/programs/forms/${id}` };
}
