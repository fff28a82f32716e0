import {
  nextBroadcastState,
  SEND_GOES,
  type BroadcastEvent,
  type BroadcastState,
} from '@/core/broadcast/lifecycle';
import { ok, refuse, type Result } from '@/core/shared/result';
import { setSend } from '@/db/delivery/sends';
import { announce, callBack } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';

export type BroadcastRefusal = 'not-found' | 'wrong-state';

const BROADCAST_WORDS: Record<BroadcastRefusal, string> = {
  'not-found': 'There is no such broadcast.',
  'wrong-state': 'The broadcast is not in a state where this can be done. Load it again and see.',
};

export const refusalOf = (reason: BroadcastRefusal): Result<never, Refusal> =>
  reason === 'not-found' ? notFound('broadcast') : conflict('state', BROADCAST_WORDS[reason]);

/** From these on what waits is not late. */
const BEGINS: readonly BroadcastEvent[] = ['begin', 'resume', 'choose'];

/** Locks a broadcast and says where it stands; null: there is none. */
export async function lockBroadcast(scope: Scope, broadcastId: string): Promise<BroadcastState | null> {
  const [row] = await scope.rows<{ state: BroadcastState }>(
    `select state from broadcast where workspace_id = :workspace and id = :broadcastId for update`,
    { broadcastId },
  );
  return row?.state ?? null;
}

/** Locks a broadcast and moves it along its lifecycle, or says why not. */
export async function moveBroadcast(
  scope: Scope,
  broadcastId: string,
  event: BroadcastEvent,
  at: Date,
): Promise<Result<BroadcastState, BroadcastRefusal>> {
  const state = await lockBroadcast(scope, broadcastId);
  if (state === null) return refuse('not-found');
  const next = nextBroadcastState(state, event);
  if (!next) return refuse('wrong-state');
  await scope.run(
    `update broadcast set state = :next, updated_at = :at, finished_at = case when :next in ('finished', 'stopped') then :at else finished_at end
      where workspace_id = :workspace and id = :broadcastId and state = :state`,
    { broadcastId, next, at, state },
  );
  const began = BEGINS.includes(event) ? at : null;
  await setSend(scope, { id: broadcastId, kind: 'broadcast', goes: SEND_GOES[next], began });
  await announce(scope, false);
  return ok(next);
}

/**
 * What waits of a paused broadcast is not due until it is resumed; each text is cleared again then, and how long it
 * may wait is counted from there. What waits for its turn goes on waiting for it.
 */
export async function pauseBroadcast(
  ctx: Context,
  scope: Scope,
  broadcastId: string,
): Promise<Result<BroadcastState, BroadcastRefusal>> {
  const moved = await moveBroadcast(scope, broadcastId, 'pause', new Date(ctx.now()));
  if (moved.ok) await setDue(scope, broadcastId, 'infinity');
  return moved;
}

export async function resumeBroadcast(
  ctx: Context,
  scope: Scope,
  broadcastId: string,
): Promise<Result<BroadcastState, BroadcastRefusal>> {
  const at = new Date(ctx.now());
  const moved = await moveBroadcast(scope, broadcastId, 'resume', at);
  if (!moved.ok) return moved;
  await letGoOn(scope, broadcastId);
  await setDue(scope, broadcastId, at.toISOString());
  await announce(scope, true);
  return moved;
}

/** Over the limit that held it, it goes on for good: somebody looked and decided. */
const letGoOn = (scope: Scope, broadcastId: string): Promise<number> =>
  scope.run(
    `update broadcast set waived = array_append(waived, held ->> 'of'), held = null where workspace_id = :workspace and id = :broadcastId and held is not null`,
    { broadcastId },
  );

const setDue = (scope: Scope, broadcastId: string, notBefore: string): Promise<number> =>
  scope.run(
    `update message set not_before = :notBefore::timestamptz where workspace_id = :workspace and send_id = :broadcastId and not_before is not null and turn_at is null`,
    { broadcastId, notBefore },
  );

/** Calls back everything that has not left. What the carrier already has cannot be called back. */
export async function stopBroadcast(
  ctx: Context,
  scope: Scope,
  broadcastId: string,
): Promise<Result<BroadcastState, BroadcastRefusal>> {
  const at = new Date(ctx.now());
  const moved = await moveBroadcast(scope, broadcastId, 'stop', at);
  if (!moved.ok) return moved;
  await callBack(scope, 'send_id = :broadcastId', { broadcastId }, at, 'broadcast stopped');
  return moved;
}
