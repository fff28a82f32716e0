import schema from '@/core/poster/schema.json';
import { ok } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import { Poster } from '@/db/posters/entities';
import { found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { iso } from '@/services/kit/views';
import { notFound } from '@/services/kit/validation';
import { posterFile, type FileKind } from './files';
import { ChangePosterInput, NewPosterInput } from './inputs';
import { changePoster, createPoster, drawSaved, removePoster } from './posters';

const posterView = (poster: Poster) => ({
  ...{ id: poster.id, keyword_id: poster.keywordId, form_id: poster.formId, document: poster.document },
  ...{ stamp: poster.stamp, created_at: iso(poster.createdAt) },
});

/** A file as base64, with what is wrong with the poster. */
async function fileOf(scope: Scope, id: string, kind: FileKind) {
  const drawn = await drawSaved(scope, id, null);
  return (
    drawn && {
      base64: (await posterFile(drawn.ready, kind)).toString('base64'),
      findings: drawn.ready.findings,
    }
  );
}

const file = (kind: FileKind): Endpoint =>
  get(`/posters/{id}/${kind}`, `A poster as ${kind.toUpperCase()}, in base64`, async ({ scope, id }) =>
    found(await fileOf(scope, id, kind), 'poster'),
  );

export const POSTERS_API: readonly Endpoint[] = [
  get('/posters', 'Posters', async ({ scope }) =>
    ok({ items: (await scope.em.find(Poster, {}, { orderBy: { id: 'asc' } })).map(posterView) }),
  ),
  post('/posters', 'Make a poster of a keyword or a form', NewPosterInput, 201, async (call) =>
    viewed(await createPoster(call.ctx, call.scope, call.input, call.actor), posterView),
  ),
  get('/posters/schema', 'The JSON Schema of a poster', () => Promise.resolve(ok(schema))),
  get('/posters/{id}', 'A poster', async ({ scope, id }) => {
    const poster = await scope.em.findOne(Poster, { id });
    return found(poster && posterView(poster), 'poster');
  }),
  post('/posters/{id}', 'Change a poster', ChangePosterInput, 200, async (call) =>
    viewed(await changePoster(call.ctx, call.scope, call.id, call.input, call.actor.name), posterView),
  ),
  file('svg'),
  file('png'),
  file('pdf'),
  {
    method: 'DELETE',
    path: '/posters/{id}',
    summary: 'Throw a poster away',
    status: 204,
    handle: async ({ ctx, scope, id, actor }) =>
      (await removePoster(ctx, scope, id, actor.name)).ok ? ok(null) : notFound('poster'),
  },
];
