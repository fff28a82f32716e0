import { ok, type Result } from '@/core/shared/result';
import { callBack } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { leaveOut, waitingIn } from '@/db/sends/broadcasts';
import { cutPage } from '@/db/audience/audience';
import { giveRoom, type Cut } from '@/db/audience/cut';
import type { Millis } from '@/core/shared/instant';
import { audienceContext, cutOf, planCondition, readCondition } from '@/services/audience/audience';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';
import { lockBroadcast } from './move-broadcast';

const PAGE = 5_000;

/**
 * Not these people any more: what waits for them is called back, and whoever has no message of it yet gets none. Gives how
 * many messages were called back.
 */
export async function leaveOutOf(
  ctx: Context,
  scope: Scope,
  id: string,
  condition: string,
  actor: Actor,
): Promise<Result<{ called_back: number }, Refusal>> {
  const at = ctx.now();
  const cut = await readCut(scope, at, condition);
  if (!cut.ok) return cut;
  const state = await lockBroadcast(scope, id);
  if (state === null) return notFound('broadcast');
  if (state !== 'preparing' && state !== 'sending' && state !== 'paused')
    return conflict(
      'state',
      'state: people are taken out of a broadcast while it goes out. A draft is changed.',
    );
  await giveRoom(scope);
  let called = 0;
  for (let after = '', page: string[] = []; ; after = page[page.length - 1]!) {
    page = await cutPage(scope, cut.value, after, PAGE);
    if (page.length === 0) break;
    await leaveOut(scope, id, page, new Date(at));
    const which = 'send_id = :id and person_id = any(:page::text[])';
    called += await callBack(scope, which, { id, page }, new Date(at), 'taken out of the broadcast');
  }
  await writeAudit(ctx, scope, actor.name, 'broadcast.left-out', id, { called_back: called });
  return ok({ called_back: called });
}

/** How many of them still wait for it. */
export async function countWaiting(
  scope: Scope,
  now: Millis,
  id: string,
  condition: string,
): Promise<Result<{ waiting: number }, Refusal>> {
  const cut = await readCut(scope, now, condition);
  if (!cut.ok) return cut;
  await giveRoom(scope);
  return ok({ waiting: await waitingIn(scope, id, cut.value) });
}

async function readCut(scope: Scope, now: Millis, condition: string): Promise<Result<Cut, Refusal>> {
  const read = readCondition(condition);
  if (!read.ok) return read;
  const plan = planCondition(read.value, await audienceContext(scope, now));
  return plan.ok ? ok(cutOf(plan.value, '')) : plan;
}
