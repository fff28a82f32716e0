import { MINUTE } from '@/core/shared/instant';
import { outcomeOf, pauseAfterTry } from '@/core/webhook/schedule';
import { announce } from '@/db/delivery/texts';
import { inWorkspace } from '@/db/kit/scope';
import { claimDelivery, dueEndpoints, recordTry, type ClaimedDelivery } from '@/db/webhooks/deliveries';
import { WebhookEndpoint } from '@/db/webhooks/entities';
import type { Poster } from '@/gateways/webhooks/post';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { switchEndpoint } from './endpoints';

/** If nobody says how a try went within this time, its sender died: it is tried again. At least once, as promised. */
const LEASE = 2 * MINUTE;
/** So many in one turn, so that one that answers slowly is seen to be alive. */
const IN_A_TURN = 50;
const SYSTEM = { name: 'webhooks', accountId: null };

/** Endpoints with deliveries to send, each in its own lane: one that answers slowly holds up no other. */
export const webhookQueue = (post: () => Poster): Queue => ({
  name: 'webhook',
  rows: {
    named: `(select url from webhook_endpoint w where w.workspace_id = :workspace and w.id = x.row_id)`,
    waits: `exists (select 1 from webhook_delivery d where d.endpoint_id = x.row_id and d.next_at is not null)`,
  },
  everyMs: 500,
  lanes: 8,
  due: async (crossing, untroubled, at) => asDue(await dueEndpoints(crossing, untroubled('w.id'), at)),
  work: async (ctx, { id, workspaceId }) => {
    let sent = 0;
    while (sent < IN_A_TURN && (await sendNext(ctx, workspaceId!, id, post()))) sent++;
    return sent > 0;
  },
  giveUp: (ctx, scope, id, actor) => switchEndpoint(ctx, scope, id, 'off', { name: actor, accountId: null }),
});

/** Sends the next delivery of an endpoint. False: there is none. */
async function sendNext(
  ctx: Context,
  workspaceId: string,
  endpointId: string,
  post: Poster,
): Promise<boolean> {
  const claimed = await inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const at = ctx.now();
    const endpoint = await scope.em.findOne(WebhookEndpoint, { id: endpointId, state: 'on' });
    if (!endpoint) return null;
    const delivery = await claimDelivery(scope, endpointId, new Date(at), new Date(at + LEASE));
    return delivery && { delivery, endpoint };
  });
  if (!claimed) return false;
  const { delivery, endpoint } = claimed;
  const answer = await post({
    ...{ url: endpoint.url, id: delivery.id, body: delivery.body },
    secrets: secretsOf(endpoint, ctx.now()),
  });
  await inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const outcome = outcomeOf(answer);
    const at = new Date(ctx.now());
    await recordTry(scope, {
      ...{ id: delivery.id, at, ms: answer.ms, arrived: outcome === 'arrived' },
      status: answer.kind === 'answered' ? answer.status : null,
      answer: answer.kind === 'answered' ? answer.body : answer.why,
      nextAt: outcome === 'arrived' ? null : nextTry(delivery, at),
    });
    await announce(scope, false);
    if (outcome === 'gone') await switchEndpoint(ctx, scope, endpointId, 'off', SYSTEM);
  });
  return true;
}

const nextTry = ({ tries }: ClaimedDelivery, at: Date): Date | null => {
  const pause = pauseAfterTry(tries);
  return pause === null ? null : new Date(at.getTime() + pause);
};

const secretsOf = ({ secret, oldSecret, oldUntil }: WebhookEndpoint, at: number): string[] =>
  oldSecret && oldUntil && oldUntil.getTime() > at ? [secret, oldSecret] : [secret];
