import { act, found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { batchById, createBatch, stopBatch, undoBatch } from './batches';
import { BatchInput } from './inputs';
import { batchView } from './views';

export const BATCHES_API: readonly Endpoint[] = [
  post(
    '/batches',
    'Do something with people: by ids, or everybody who meets a condition now',
    BatchInput,
    201,
    async ({ ctx, scope, input, actor }) => viewed(await createBatch(ctx, scope, input, actor), batchView),
  ),
  get('/batches/{id}', 'How far a batch is', async ({ scope, id }) =>
    viewed(found(await batchById(scope, id), 'batch'), batchView),
  ),
  act('/batches/{id}/stop', 'Stop a batch', async ({ ctx, scope, id, actor }) =>
    viewed(await stopBatch(ctx, scope, id, actor), batchView),
  ),
  act(
    '/batches/{id}/undo',
    'Change back what it changed, unless changed since',
    async ({ ctx, scope, id, actor }) => viewed(await undoBatch(ctx, scope, id, actor), batchView),
  ),
];
