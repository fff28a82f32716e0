import { systemClock, type Clock } from '@/gateways/clock';
import { getOrm } from '@/db/kit/orm';
import { makeContext, type Context } from './context';
import { openClock } from './settings';

/** The web process's own context: one per process, though Next evaluates modules more than once. */
const holder = globalThis as unknown as { wrenClock?: Promise<Clock>; wrenContext?: Promise<Context> };

/** How long a request waits for the bench's clock before it goes on with the machine's. */
const PATIENCE_MS = 3_000;

export function getContext(): Promise<Context> {
  holder.wrenContext ??= (async () => {
    holder.wrenClock ??= openClock();
    const late = new Promise<Clock>((resolve) => setTimeout(() => resolve(systemClock), PATIENCE_MS));
    const clock = await Promise.race([holder.wrenClock, late]);
    if (clock === systemClock) holder.wrenContext = undefined;
    return makeContext(getOrm(), clock.now);
  })();
  return holder.wrenContext;
}
