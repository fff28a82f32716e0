import { ok } from '@/core/shared/result';
import { Broadcast } from '@/db/sends/entities';
import type { StackCounts } from '@/db/stacks/stacks';
import { found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { iso } from '@/services/kit/views';
import { PressInput, SkipInput, SplitInput, StackInput } from './inputs';
import { press, readDesk, skip } from './press';
import { readFacts } from './facts';
import { readStacks } from './screen';
import { actOnStack, splitSend } from './split';

const countsView = (row: StackCounts) => ({
  ...{ id: row.id, name: row.name, account_id: row.account_id, takes: row.takes },
  ...{ to_send: row.to_send, held: row.held, pressed: row.pressed, sent: row.sent, skipped: row.skipped },
  adapted: row.adapted,
  ...{ replied: row.replied, waiting: row.waiting, opted_out: row.left, last_heard_at: iso(row.heard_at) },
  ...{ link_ends_at: iso(row.key_ends_at), ended_at: iso(row.ended_at) },
});

export const STACKS_API: readonly Endpoint[] = [
  get('/broadcasts/{id}/stacks', 'Stacks of a broadcast that is sent by hand', async ({ ctx, scope, id }) => {
    const read = found(await readStacks(scope, id, ctx.now()), 'broadcast that is sent by hand');
    return read.ok
      ? ok({
          items: read.value.stacks.map(countsView),
          ...{ nobodys: read.value.loose, blocked: read.value.blocked },
        })
      : read;
  }),
  get(
    '/broadcasts/{id}/facts',
    'What was learnt in a broadcast that is sent by hand',
    async ({ scope, id }) => {
      const broadcast = found(await scope.em.findOne(Broadcast, { id }), 'broadcast');
      return broadcast.ok ? ok({ items: await readFacts(scope, id) }) : broadcast;
    },
  ),
  post(
    '/broadcasts/{id}/stacks',
    'Split what is nobody’s among teammates and guests; the link of a guest is given once',
    SplitInput,
    201,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await splitSend(ctx, scope, id, input, actor), (stacks) => ({
        items: stacks.map(({ stack, url }) => ({ id: stack.id, name: stack.name, link: url })),
      })),
  ),
  post(
    '/stacks/{id}',
    'End a stack, move what is left of it, give it a new link, or take the next ones',
    StackInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await actOnStack(ctx, scope, id, input, actor), ({ url, moved }) => ({ link: url, moved })),
  ),
  get('/stacks/{id}', 'Who is next in a stack', async ({ ctx, scope, id }) =>
    found(await readDesk(ctx, scope, id), 'stack'),
  ),
  post(
    '/stacks/{id}/presses',
    'Press messages of a stack: each leaves once',
    PressInput,
    200,
    ({ ctx, scope, id, input }) => press(ctx, scope, id, input),
  ),
  post('/stacks/{id}/skips', 'Pass somebody over', SkipInput, 200, ({ ctx, scope, id, input }) =>
    skip(ctx, scope, id, input),
  ),
];
