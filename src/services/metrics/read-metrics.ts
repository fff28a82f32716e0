import { MINUTE } from '@/core/shared/instant';
import { readInstallation } from '@/db/delivery/installation';
import { workersAlive } from '@/db/delivery/silence';
import { acrossWorkspaces } from '@/db/kit/scope';
import {
  answerSeconds,
  dueByChannel,
  happeningsLag,
  linksByCarrier,
  messagesByState,
  stuckRows,
} from '@/db/metrics/standing';
import { registry, STANDING } from '@/log/metrics';
import type { Context } from '@/services/kit/context';

/** Everything there is to watch, in the text format of Prometheus (version 0.0.4). */
export async function readMetrics(ctx: Context): Promise<{ type: string; body: string }> {
  const now = ctx.now();
  await acrossWorkspaces(ctx.orm, async (crossing) => {
    for (const one of Object.values(STANDING)) one.reset();
    for (const { channel, n, age } of await dueByChannel(crossing, new Date(now))) {
      STANDING.due.set({ channel }, n);
      STANDING.dueAge.set({ channel }, age);
    }
    for (const { state, reason, n } of await messagesByState(crossing))
      STANDING.messages.set({ state, reason: reason ?? '' }, n);
    const [lately] = await answerSeconds(crossing, new Date(now - 5 * MINUTE));
    if (lately?.p50 != null) STANDING.answers.set({ quantile: '0.5' }, lately.p50);
    if (lately?.p95 != null) STANDING.answers.set({ quantile: '0.95' }, lately.p95);
    for (const { carrier, up } of await linksByCarrier(crossing)) STANDING.link.set({ carrier }, up ? 1 : 0);
    STANDING.held.set((await readInstallation(crossing))?.held_since ? 1 : 0);
    STANDING.workers.set((await workersAlive(crossing)).length);
    for (const { consumer, n } of await happeningsLag(crossing)) STANDING.happenings.set({ consumer }, n);
    for (const { queue, aside, n } of await stuckRows(crossing))
      STANDING.stuck.set({ queue, aside: String(aside) }, n);
  });
  return { type: registry.contentType, body: await registry.metrics() };
}
