import { systemClock, type Clock } from '@/gateways/clock';
import { getOrm } from '@/db/kit/orm';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { makeContext, type Context } from './context';
import { openClock, soon } from './kit/settings';

/** The web process's own context: one per process, though Next evaluates modules more than once. */
const holder = globalThis as unknown as { wrenClock?: Promise<Clock>; wrenContext?: Promise<Context> };

export function getContext(): Promise<Context> {
  holder.wrenContext ??= (async () => {
    holder.wrenClock ??= openClock();
    const clock = await soon(holder.wrenClock);
    if (clock === systemClock) holder.wrenContext = undefined;
    return makeContext(getOrm(), clock.now);
  })();
  return holder.wrenContext;
}

/** Work in one workspace from a route or an action: one transaction. */
export async function withWorkspace<T>(workspaceId: string, work: (scope: Scope) => Promise<T>): Promise<T> {
  const { orm } = await getContext();
  return inWorkspace(orm, workspaceId, work);
}
