import { ok } from '@/core/shared/result';
import { WebhookEndpoint } from '@/db/webhooks/entities';
import { act, get, post, viewed, type Endpoint } from '@/services/kit/api';
import {
  changeEndpoint,
  createEndpoint,
  removeEndpoint,
  rotateSecret,
  switchEndpoint,
  testEndpoint,
} from './endpoints';
import { WebhookInput } from './inputs';
import { webhookView, webhookWithSecret } from './views';

export const WEBHOOKS_API: readonly Endpoint[] = [
  get('/webhooks', 'Addresses that are told what happens', async ({ scope }) =>
    ok({
      items: (await scope.em.find(WebhookEndpoint, {}, { orderBy: { id: 'asc' } })).map(webhookView),
    }),
  ),
  post(
    '/webhooks',
    'Tell an address what happens; its secret is given once',
    WebhookInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await createEndpoint(ctx, scope, input, actor), webhookWithSecret),
  ),
  post(
    '/webhooks/{id}',
    'Change where it goes and what it follows',
    WebhookInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeEndpoint(ctx, scope, id, input, actor), webhookView),
  ),
  act('/webhooks/{id}/secret', 'A new secret; the old one signs for a day more', async (call) =>
    viewed(await rotateSecret(call.ctx, call.scope, call.id, call.actor), webhookWithSecret),
  ),
  act('/webhooks/{id}/test', 'Send a test', ({ ctx, scope, id, actor }) =>
    testEndpoint(ctx, scope, id, actor),
  ),
  act('/webhooks/{id}/off', 'Send nothing until it is on again', async ({ ctx, scope, id, actor }) =>
    viewed(await switchEndpoint(ctx, scope, id, 'off', actor), webhookView),
  ),
  act('/webhooks/{id}/on', 'Send again', async ({ ctx, scope, id, actor }) =>
    viewed(await switchEndpoint(ctx, scope, id, 'on', actor), webhookView),
  ),
  {
    method: 'DELETE',
    path: '/webhooks/{id}',
    summary: 'Remove it with its log',
    status: 204,
    handle: ({ ctx, scope, id, actor }) => removeEndpoint(ctx, scope, id, actor),
  },
];
