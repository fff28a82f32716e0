import { DAY, type Millis } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { endpointCounts, type EndpointCounts } from '@/db/webhooks/deliveries';
import { WebhookDelivery, WebhookEndpoint, WebhookTry } from '@/db/webhooks/entities';

export interface EndpointRow {
  endpoint: WebhookEndpoint;
  /** Of the last seven days; null: nothing was sent. */
  counts: EndpointCounts | null;
}

export async function readEndpoints(scope: Scope, now: Millis): Promise<EndpointRow[]> {
  const endpoints = await scope.em.find(WebhookEndpoint, {}, { orderBy: { id: 'asc' } });
  const counts = new Map(
    (await endpointCounts(scope, new Date(now - 7 * DAY))).map((row) => [row.endpoint_id, row]),
  );
  return endpoints.map((endpoint) => ({ endpoint, counts: counts.get(endpoint.id) ?? null }));
}

export interface DeliveryRow {
  delivery: WebhookDelivery;
  tries: WebhookTry[];
}

const SHOWN = 50;

/** One endpoint with its latest deliveries, each with its tries. `before`: the id of the last one of the page before. */
export async function readEndpoint(scope: Scope, id: string, before: string) {
  const endpoint = await scope.em.findOne(WebhookEndpoint, { id });
  if (!endpoint) return null;
  const found = await scope.em.find(
    WebhookDelivery,
    { endpointId: id, ...(before ? { id: { $lt: before } } : {}) },
    { orderBy: { id: 'desc' }, limit: SHOWN + 1 },
  );
  const deliveries = found.slice(0, SHOWN);
  const tries = await scope.em.find(
    WebhookTry,
    { deliveryId: deliveries.map((delivery) => delivery.id) },
    { orderBy: { id: 'asc' } },
  );
  return {
    endpoint,
    deliveries: deliveries.map((delivery) => ({
      delivery,
      tries: tries.filter(({ deliveryId }) => deliveryId === delivery.id),
    })),
    next: found.length > SHOWN ? deliveries.at(-1)!.id : null,
  };
}
