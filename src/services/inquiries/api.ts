import { cleanTree } from '@/core/inquiry/read-body';
import { isTooDeep, type Tree } from '@/core/inquiry/tree';
import { ok } from '@/core/shared/result';
import { newestArrivals } from '@/db/inquiries/arrivals';
import { Inquiry, Source } from '@/db/inquiries/entities';
import { act, found, get, getPage, listed, post, viewed, type Endpoint } from '@/services/kit/api';
import { invalid, notFound } from '@/services/kit/validation';
import { ChangeSourceInput, InquiryInput, NewKeyInput, NewSourceInput, PlayAgainInput } from './inputs';
import { keepArrival } from './intake';
import { changeSource, createSource, leaveOut, newKey, playUnreadAgain, proposedMapping } from './sources';
import { arrivalView, inquiryView, sourceView } from './views';

const LISTED = 200;

export const INQUIRIES_API: readonly Endpoint[] = [
  get('/sources', 'Sources of inquiries', async ({ scope }) =>
    ok({ items: (await scope.em.find(Source, {}, { orderBy: { id: 'asc' } })).map(sourceView) }),
  ),
  post('/sources', 'Make a source', NewSourceInput, 201, async ({ ctx, scope, input, actor }) =>
    viewed(await createSource(ctx, scope, input, actor), sourceView),
  ),
  get('/sources/{id}', 'A source', async ({ scope, id }) => {
    const source = await scope.em.findOne(Source, { id });
    return found(source && sourceView(source), 'source');
  }),
  post(
    '/sources/{id}',
    'Change a source: what is left out stays; what could not be read is read again when its mapping changes',
    ChangeSourceInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeSource(ctx, scope, id, input, actor), sourceView),
  ),
  post(
    '/sources/{id}/keys',
    'A new address or secret; the one before counts for some hours',
    NewKeyInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await newKey(ctx, scope, id, input, actor), sourceView),
  ),
  get('/sources/{id}/arrivals', 'What came through a source, the newest 200', async ({ scope, id }) => {
    const source = await scope.em.findOne(Source, { id });
    const rows = source ? await newestArrivals(scope, id, { state: null, most: LISTED }) : [];
    return found(source && { items: rows.map(arrivalView) }, 'source');
  }),
  get(
    '/sources/{id}/proposal',
    'Where the values of what came could go, with reasons',
    async ({ scope, id }) => {
      const source = await scope.em.findOne(Source, { id });
      if (!source) return notFound('source');
      const { proposals, rules } = await proposedMapping(scope, source);
      return ok({ items: proposals, rules });
    },
  ),
  post(
    '/sources/{id}/replays',
    'Read again what could not be read',
    PlayAgainInput,
    200,
    async ({ ctx, scope, id, input }) => {
      const source = await scope.em.findOne(Source, { id });
      return found(source && { arrivals: await playUnreadAgain(ctx, scope, id, input.arrivals) }, 'source');
    },
  ),
  post(
    '/sources/{id}/inquiries',
    'Bring an inquiry: it is kept at once, and read by the worker',
    InquiryInput,
    201,
    async ({ ctx, scope, id, input }) => {
      const source = await scope.em.findOne(Source, { id });
      if (!source) return notFound('source');
      if (source.closedAt !== null) return invalid('id', 'id: this source is closed. Open it first.');
      if (isTooDeep(input.content as Tree))
        return invalid('content', 'content: is nested deeper than 32 levels.');
      await keepArrival(
        ctx,
        { id, workspace_id: scope.workspaceId },
        { format: 'json', content: cleanTree(input.content as Tree), deliveryId: input.id ?? null },
      );
      return ok({ kept: true });
    },
  ),
  act('/arrivals/{id}/drop', 'Let nothing follow from what could not be read', async ({ ctx, scope, id }) => {
    const left = await leaveOut(ctx, scope, [id]);
    return left.ok ? ok({ id, state: 'dropped' }) : left;
  }),
  getPage('/inquiries', 'Inquiries, oldest first, a page at a time', async ({ scope, page }) => {
    const rows = await scope.em.find(
      Inquiry,
      { id: { $gt: page.after } },
      { orderBy: { id: 'asc' }, limit: page.limit + 1 },
    );
    return ok(listed(rows, page.limit, inquiryView));
  }),
];
