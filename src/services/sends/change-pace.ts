import { isByHand, type Pace } from '@/core/broadcast/timing';
import { toIso } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { setInTurn, setTiming } from '@/db/delivery/sends';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { Broadcast } from '@/db/sends/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';
import type { ChangePaceInput } from './inputs';
import { lockBroadcast } from './move-broadcast';
import { paceEnds, readPace } from './read-timing';

/** Slower or faster, while it goes out: what has not left waits for its turn from now on, or for none any more. */
export async function changePace(
  ctx: Context,
  scope: Scope,
  id: string,
  { pace }: ChangePaceInput,
  actor: Actor,
): Promise<Result<Broadcast, Refusal>> {
  const at = ctx.now();
  const read = pace ? readPace(pace) : ok(null);
  if (!read.ok) return read;
  const state = await lockBroadcast(scope, id);
  if (state === null) return notFound('broadcast');
  if (state !== 'preparing' && state !== 'sending' && state !== 'paused')
    return conflict('state', 'state: its pace can be changed while it goes out. Load it again and see.');
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id }, { refresh: true });
  if (isByHand(broadcast.timing.pace) !== isByHand(read.value))
    return conflict(
      'pace',
      'pace: what is sent by hand does not go by itself, and what goes by itself is not pressed. Stop it and copy it for the rest.',
    );
  const timing = { ...broadcast.timing, pace: read.value };
  const ends = paceEnds(timing, at);
  if (!ends.ok) return ends;
  Object.assign(broadcast, { timing, updatedAt: new Date(at) });
  await scope.em.flush();
  await setTiming(scope, id, timing);
  // One that is told of has its turn with what tells of it, however fast it goes.
  const inTurn = timing.pace !== null || broadcast.companion?.when === 'before';
  await setInTurn(scope, id, inTurn, new Date(at));
  await writeAudit(ctx, scope, actor.name, 'broadcast.pace', id, { pace: paceWords(timing.pace) });
  await announce(scope, true);
  return ok(broadcast);
}

const paceWords = (pace: Pace | null): string =>
  pace === null
    ? 'as fast as the numbers carry'
    : 'until' in pace
      ? `evenly until ${toIso(pace.until)}`
      : 'phones' in pace
        ? 'in waves as the phones carry'
        : 'hands' in pace
          ? 'each pressed by hand'
          : 'every' in pace
            ? `${pace.people} people every ${pace.every} minutes`
            : `${pace.people} people per ${pace.per}`;
