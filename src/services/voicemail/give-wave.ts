import type { Timing } from '@/core/broadcast/timing';
import { HOUR, MINUTE, type Millis } from '@/core/shared/instant';
import { QUARTER } from '@/core/voicemail/callbacks';
import { whyWave, type WaveWhy } from '@/core/voicemail/waves';
import { giveTurns, setNextTurn } from '@/db/delivery/sends';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { Broadcast } from '@/db/sends/entities';
import { DropWave } from '@/db/voicemail/entities';
import type { Context } from '@/services/kit/context';
import { dropFacts, wavesOf } from './plan';

/** A wave that is held back is looked at again after this time. */
const LOOK_AGAIN: Millis = 5 * MINUTE;

/**
 * The next wave of a drop, planned anew by who is at the phones now and by the calls that came: the plan that the margin
 * showed is what this comes to as long as nothing comes otherwise than thought.
 */
export async function giveWave(
  ctx: Context,
  scope: Scope,
  { id, timing, next, waiting }: { id: string; timing: Timing; next: Date | null; waiting: number },
): Promise<boolean> {
  const at = ctx.now();
  if (next && next.getTime() > at) return false;
  const { programId, companion } = await scope.em.findOneOrFail(Broadcast, { id });
  const told = companion?.when === 'before';
  // Who is told first is called so much later: the phones of then count, and the waves that are told and not called yet.
  const ahead = told ? companion.minutes * MINUTE : 0;
  const from = at + ahead;
  const known = await dropFacts(scope, { at, programId, sendId: id, own: timing.hours });
  const facts = { ...known, left: [...known.left, ...(await wavesTold(scope, id, at, ahead))] };
  const plan = wavesOf(facts, waiting, from);
  const thought = wavesOf({ ...facts, rate: facts.rateBefore }, waiting, from);
  const sizeOf = ({ waves: [first] }: typeof plan) => (first?.at === from ? first.people : 0);
  const [size, before] = [sizeOf(plan), sizeOf(thought)];
  // Soon closed is as good as closed: most of those who call do so within the hour.
  const nobody = facts.phones.at(from) === 0 || facts.phones.at(from + HOUR) === 0 || !facts.mayDrop(from);
  const given = size > 0 ? await giveTurns(scope, id, size, { at: new Date(at), told }) : 0;
  // Whoever may not be called yet keeps their place; the wave is the smaller for it.
  await noteWave(scope, id, at, {
    ...{ people: given, before, why: whyWave(size, before, nobody) },
    ...{ called: facts.own.called, expected: facts.own.expected },
  });
  const after = (plan.waves.find((wave) => wave.at > from)?.at ?? from + QUARTER) - ahead;
  await setNextTurn(scope, id, new Date(size > 0 ? after : Math.min(after, at + LOOK_AGAIN)), new Date(at));
  if (given > 0) await announce(scope, true);
  return given > 0;
}

/** Waves of which people were told, and that are still to come. */
async function wavesTold(
  scope: Scope,
  sendId: string,
  at: Millis,
  ahead: Millis,
): Promise<{ at: Millis; people: number }[]> {
  if (ahead === 0) return [];
  const waves = await scope.em.find(DropWave, {
    sendId,
    people: { $gt: 0 },
    at: { $gt: new Date(at - ahead) },
  });
  return waves.map((wave) => ({ at: wave.at.getTime() + ahead, people: wave.people }));
}

/** Each wave is written down; of several that are held back for the same reason the first. */
async function noteWave(
  scope: Scope,
  sendId: string,
  at: Millis,
  wave: { people: number; before: number; why: WaveWhy; called: number; expected: number },
): Promise<void> {
  const [last] = await scope.em.find(DropWave, { sendId }, { orderBy: { at: 'desc', id: 'desc' }, limit: 1 });
  if (wave.people === 0 && last?.people === 0 && last.why === wave.why) return;
  await scope.em.insert(DropWave, {
    workspaceId: scope.workspaceId,
    sendId,
    at: new Date(at),
    ...wave,
  });
}
