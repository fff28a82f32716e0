import { isByHand, isSteady, turnsNow } from '@/core/broadcast/timing';
import { announce } from '@/db/delivery/texts';
import { Broadcast } from '@/db/sends/entities';
import { giveTurns, lockTurns, sendsWithTurns, setNextTurn } from '@/db/delivery/sends';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { ok } from '@/core/shared/result';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { giveWave } from '@/services/voicemail/give-wave';
import { stopBroadcast } from './move-broadcast';

const AT_ONCE = 20;

/** Sends with a pace: people have their turn one after the other, and then leave as any message does. */
export const TURNS_QUEUE: Queue = {
  name: 'broadcast-turns',
  rows: {
    named: `(select name from broadcast b where b.workspace_id = :workspace and b.id = x.row_id)`,
    waits: `exists (select 1 from send s where s.id = x.row_id and s.goes = 'on')`,
  },
  everyMs: 500,
  wakes: true,
  giveUp: (ctx, scope, id) => stopBroadcast(ctx, scope, id).then(() => ok(null)),
  due: async (reading, untroubled, at) =>
    asDue(await sendsWithTurns(reading, untroubled('s.id'), at, AT_ONCE)),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, (scope) => giveTurnsOf(ctx, scope, id)),
};

async function giveTurnsOf(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const at = ctx.now();
  const send = await lockTurns(scope, id);
  if (!send?.timing.pace) return false;
  // Those are given by whoever presses.
  if (isByHand(send.timing.pace)) return false;
  if (!isSteady(send.timing.pace)) return giveWave(ctx, scope, { id, ...send, timing: send.timing });
  const { companion } = await scope.em.findOneOrFail(Broadcast, { id });
  const turns = turnsNow(send.timing.pace, send.waiting, send.next?.getTime() ?? null, at);
  if (turns.people === 0) return false;
  const told = companion?.when === 'before';
  const given = await giveTurns(scope, id, turns.people, { at: new Date(at), told });
  await setNextTurn(scope, id, new Date(turns.next - (turns.people - given) * turns.gap), new Date(at));
  if (given > 0) await announce(scope, true);
  return given > 0;
}
