import { inWorkspace, type Scope } from '@/db/kit/scope';
import { log } from '@/log/log';
import type { Context } from './context';

/**
 * Works in several workspaces, each in a transaction of its own: one in which it fails (`failed` says what, in the log)
 * holds up no other and is looked at again next time. Gives the sum of what was done.
 */
export async function inEach(
  ctx: Context,
  workspaceIds: Iterable<string>,
  failed: string,
  work: (scope: Scope) => Promise<number>,
): Promise<number> {
  let done = 0;
  for (const workspaceId of workspaceIds)
    try {
      done += await inWorkspace(ctx.orm, workspaceId, work);
    } catch (error) {
      log.error({ err: error, workspaceId }, failed);
    }
  return done;
}
