import { ok } from '@/core/shared/result';
import { get, post, viewed, type Endpoint } from '@/services/kit/api';
import { importItems } from './import-items';
import { ImportItemsInput, ItemInput } from './inputs';
import { dropItem, listItems, putItem } from './items';
import { itemView } from './views';

/** A file of some thousand rows. */
const LARGEST = 2_200_000;

export const ITEMS_API: readonly Endpoint[] = [
  get('/items', 'Things to write about: what is coming first', async ({ ctx, scope }) =>
    ok({ items: (await listItems(ctx, scope, 5_000)).map((item) => itemView(item, ctx.now())) }),
  ),
  post(
    '/items',
    'Keep something to write about; one with this number already is changed',
    ItemInput,
    200,
    async ({ ctx, scope, input, actor }) =>
      viewed(await putItem(ctx, scope, input, actor), (item) => itemView(item, ctx.now())),
  ),
  {
    ...post(
      '/items/import',
      'Take a table (CSV) or a calendar (iCalendar) in',
      ImportItemsInput,
      200,
      async ({ ctx, scope, input, actor }) =>
        importItems(ctx, scope, Buffer.from(input.content, 'utf8'), actor),
    ),
    largest: LARGEST,
  },
  {
    method: 'DELETE',
    path: '/items/{id}',
    summary: 'Offer something no more; texts that name it still do',
    status: 204,
    handle: async ({ ctx, scope, id, actor }) => viewed(await dropItem(ctx, scope, id, actor), () => null),
  },
];
