import { DAY, HOUR } from '@/core/shared/instant';
import { acrossWorkspaces } from '@/db/kit/scope';
import { forgetOldDeliveries, WEBHOOKS_ERASURES } from '@/db/webhooks/deliveries';
import { poster } from '@/gateways/webhooks/post';
import type { Room } from '@/services/kit/room';
import { webhookHosts } from '@/services/kit/settings';
import { WEBHOOKS_API } from './api';
import { WEBHOOKS_FOLLOW } from './pass-on';
import { webhookQueue } from './send';

/** What was sent is kept so long. */
const KEPT = 30 * DAY;

export const WEBHOOKS: Room = {
  name: 'webhooks',
  queues: [webhookQueue(() => poster(webhookHosts()))],
  consumers: [WEBHOOKS_FOLLOW],
  ticks: [
    {
      everyMs: HOUR,
      run: (ctx) =>
        acrossWorkspaces(ctx.orm, (crossing) => forgetOldDeliveries(crossing, new Date(ctx.now() - KEPT))),
    },
  ],
  api: WEBHOOKS_API,
  erasures: WEBHOOKS_ERASURES,
};
