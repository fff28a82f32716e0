import type { WebhookEndpoint } from '@/db/webhooks/entities';

/** The secret is shown when it is made and when it is changed, not when an endpoint is listed. */
export const webhookView = (endpoint: WebhookEndpoint) => ({
  id: endpoint.id,
  url: endpoint.url,
  note: endpoint.note,
  kinds: endpoint.kinds,
  state: endpoint.state,
  created_at: endpoint.createdAt.toISOString(),
});

export const webhookWithSecret = (endpoint: WebhookEndpoint) => ({
  ...webhookView(endpoint),
  secret: endpoint.secret,
});
