import { randomBytes } from 'node:crypto';
import { OLD_SECRET_LASTS } from '@/core/webhook/schedule';
import { ok, type Result } from '@/core/shared/result';
import { wantHappenings } from '@/db/kit/happenings';
import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';
import { insertDeliveries, sendAgain } from '@/db/webhooks/deliveries';
import { WebhookEndpoint } from '@/db/webhooks/entities';
import { refusedUrl } from '@/gateways/webhooks/allowed';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { webhookHosts } from '@/services/kit/settings';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import type { WebhookInput } from './inputs';

/** What follows under this name is told to addresses. */
export const FOLLOWER = 'webhooks';

const MOST = 20;

/** Source: Standard Webhooks: 24 to 64 random bytes in base64 behind this prefix. */
const newSecret = (): string => `whsec_${randomBytes(32).toString('base64')}`;

export async function createEndpoint(
  ctx: Context,
  scope: Scope,
  input: WebhookInput,
  actor: Actor,
): Promise<Result<WebhookEndpoint, Refusal>> {
  const wrong = refusedUrl(input.url, webhookHosts());
  if (wrong) return invalid('url', `url: ${wrong}`);
  if ((await scope.em.count(WebhookEndpoint, {})) >= MOST)
    return conflict('url', `url: there are ${MOST} already. Remove one first.`);
  const endpoint = scope.em.create(WebhookEndpoint, {
    ...{ id: ctx.id('whk'), workspaceId: scope.workspaceId, url: input.url, note: input.note ?? '' },
    ...{ kinds: [...new Set(input.kinds)], secret: newSecret(), oldSecret: null, oldUntil: null },
    ...{ state: 'on' as const, createdBy: actor.accountId, createdAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(endpoint);
  await want(scope);
  await writeAudit(ctx, scope, actor.name, 'webhook.created', endpoint.id, { url: input.url });
  return ok(endpoint);
}

/** Changes where it goes and what it follows. */
export const changeEndpoint = (
  ctx: Context,
  scope: Scope,
  id: string,
  input: WebhookInput,
  actor: Actor,
): Promise<Result<WebhookEndpoint, Refusal>> =>
  changed(ctx, scope, id, actor, 'webhook.changed', (endpoint) => {
    const wrong = refusedUrl(input.url, webhookHosts());
    if (wrong) return invalid('url', `url: ${wrong}`);
    Object.assign(endpoint, { url: input.url, note: input.note ?? '', kinds: [...new Set(input.kinds)] });
    return ok(endpoint);
  });

/** What waits keeps waiting while it is off, and goes out when it is on again. */
export const switchEndpoint = (
  ctx: Context,
  scope: Scope,
  id: string,
  state: WebhookEndpoint['state'],
  actor: Actor,
): Promise<Result<WebhookEndpoint, Refusal>> =>
  changed(ctx, scope, id, actor, `webhook.${state}`, (endpoint) => {
    endpoint.state = state;
    return ok(endpoint);
  });

/** A new secret; the old one goes on signing for a day, so that who listens can change over without missing one. */
export const rotateSecret = (
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<WebhookEndpoint, Refusal>> =>
  changed(ctx, scope, id, actor, 'webhook.secret-changed', (endpoint) => {
    endpoint.oldSecret = endpoint.secret;
    endpoint.oldUntil = new Date(ctx.now() + OLD_SECRET_LASTS);
    endpoint.secret = newSecret();
    return ok(endpoint);
  });

/** Removes it with its log. */
export async function removeEndpoint(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const removed = await scope.run(
    `delete from webhook_endpoint where workspace_id = :workspace and id = :id`,
    {
      id,
    },
  );
  if (removed === 0) return notFound('webhook');
  await want(scope);
  await writeAudit(ctx, scope, actor.name, 'webhook.removed', id);
  return ok(null);
}

/** A delivery about nobody, to see whether it arrives. */
export async function testEndpoint(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<{ id: string }, Refusal>> {
  const endpoint = await scope.em.findOne(WebhookEndpoint, { id });
  if (!endpoint) return notFound('webhook');
  const at = new Date(ctx.now());
  const delivery = ctx.id('whd');
  const body = toJson({ type: 'test', timestamp: at.toISOString(), data: { note: endpoint.note } });
  await insertDeliveries(scope, [{ id: delivery, endpointId: id, personId: null, kind: 'test', body, at }]);
  await writeAudit(ctx, scope, actor.name, 'webhook.tested', id);
  return ok({ id: delivery });
}

/** Sends one delivery once more, with the id it had. */
export async function sendDeliveryAgain(
  ctx: Context,
  scope: Scope,
  endpointId: string,
  id: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  if ((await sendAgain(scope, endpointId, id, new Date(ctx.now()))) === 0) return notFound('delivery');
  await writeAudit(ctx, scope, actor.name, 'webhook.sent-again', endpointId, { delivery: id });
  return ok(null);
}

async function changed(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
  action: string,
  change: (endpoint: WebhookEndpoint) => Result<WebhookEndpoint, Refusal>,
): Promise<Result<WebhookEndpoint, Refusal>> {
  const endpoint = await scope.em.findOne(WebhookEndpoint, { id });
  if (!endpoint) return notFound('webhook');
  const done = change(endpoint);
  if (!done.ok) return done;
  await scope.em.flush();
  await want(scope);
  await writeAudit(ctx, scope, actor.name, action, id);
  return done;
}

/** Whatever any address that is on follows is told from now on. */
async function want(scope: Scope): Promise<void> {
  const endpoints = await scope.em.find(WebhookEndpoint, { state: 'on' });
  await wantHappenings(scope, FOLLOWER, [...new Set(endpoints.flatMap(({ kinds }) => kinds))]);
}
