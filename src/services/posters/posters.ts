import { newPoster, type PosterDocument } from '@/core/poster/document';
import { parsePoster } from '@/core/poster/parse';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import { MediaFile } from '@/db/media/entities';
import { Poster } from '@/db/posters/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, overtaken, type Refusal } from '@/services/kit/validation';
import { drawPoster, subjectOf, type Ready } from './draw';
import type { ChangePosterInput, NewPosterInput } from './inputs';

export async function createPoster(
  ctx: Context,
  scope: Scope,
  input: NewPosterInput,
  { accountId, name: actor }: Actor,
): Promise<Result<Poster, Refusal>> {
  const of = { keywordId: input.keyword ?? null, formId: input.form ?? null };
  if ((of.keywordId === null) === (of.formId === null))
    return invalid('keyword', 'keyword: give the id of a keyword or of a form, one of the two.');
  const subject = await subjectOf(scope, of);
  if (!subject)
    return of.keywordId === null
      ? invalid('form', 'form: there is no such form here. Give its id.')
      : invalid('keyword', 'keyword: there is no such keyword here. Give its id.');
  const document = await readPoster(scope, input.document ?? newPoster(subject.call.program));
  if (!document.ok) return document;
  const poster = scope.em.create(Poster, {
    ...{ id: ctx.id('pst'), workspaceId: scope.workspaceId, ...of, document: document.value, stamp: 0 },
    ...{ createdBy: accountId, createdAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(poster);
  await writeAudit(ctx, scope, actor, 'poster.created', poster.id);
  return ok(poster);
}

/** A poster from anywhere: its picture must be here. */
export async function readPoster(scope: Scope, data: unknown): Promise<Result<PosterDocument, Refusal>> {
  const document = parsePoster(data);
  if (!document.ok) return invalid('document', `document: ${document.reason}`);
  const { picture } = document.value.look;
  if (picture !== undefined && !(await scope.em.findOne(MediaFile, { id: picture, kind: 'picture' })))
    return invalid('document', 'document: look.picture: there is no such picture here. Choose another.');
  return document;
}

export async function changePoster(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangePosterInput,
  actor: string,
): Promise<Result<Poster, Refusal>> {
  await scope.run(`select 1 from poster where workspace_id = :workspace and id = :id for update`, { id });
  const poster = await scope.em.findOne(Poster, { id }, { refresh: true });
  if (!poster) return notFound('poster');
  if (input.stamp !== poster.stamp) return overtaken();
  const document = await readPoster(scope, input.document);
  if (!document.ok) return document;
  Object.assign(poster, { document: document.value, stamp: poster.stamp + 1 });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'poster.changed', id);
  return ok(poster);
}

export async function removePoster(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  if ((await scope.em.nativeDelete(Poster, { id })) === 0) return notFound('poster');
  await writeAudit(ctx, scope, actor, 'poster.removed', id);
  return ok(null);
}

/** A poster by its id, as it is saved or as it is being worked on. Null: it is not here. */
export async function drawSaved(
  scope: Scope,
  id: string,
  worked: PosterDocument | null,
): Promise<{ ready: Ready; document: PosterDocument } | null> {
  const poster = await scope.em.findOne(Poster, { id });
  const document = worked ?? poster?.document;
  const ready = poster && document ? await drawPoster(scope, poster, document) : null;
  return ready && document ? { ready, document } : null;
}

/** Posters of a keyword or a form, the newest first. */
export const postersOf = (scope: Scope, of: { keywordId: string } | { formId: string }): Promise<Poster[]> =>
  scope.em.find(Poster, of, { orderBy: { createdAt: 'desc', id: 'desc' }, limit: 50 });
