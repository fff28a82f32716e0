import {
  turnAfter,
  turnOfTelling,
  turnOfTold,
  type CompanionTurn,
  type OtherMessage,
} from '@/core/broadcast/companion';
import { TEXT_STATES } from '@/core/delivery/lifecycle';
import { cutText } from '@/core/shared/clean-text';
import type { Millis } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { giveTurns, setTiming } from '@/db/delivery/sends';
import { announce, callBack } from '@/db/delivery/texts';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { dueCompanions, letGo, lockCompanion, waitingPairs } from '@/db/sends/companions';
import { Broadcast } from '@/db/sends/entities';
import { noteItems } from '@/services/items/fill-items';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { freshBroadcast } from './fresh-broadcast';
import { moveBroadcast, stopBroadcast } from './move-broadcast';

const AT_ONCE = 20;
const SLICE = 1_000;

/** The longest name a broadcast may have. */
const NAME = 120;

/**
 * What is told beside a broadcast begins with it, to the same people, as a broadcast of its own: whoever reads results, stops
 * or pauses has the two apart.
 */
export async function beginCompanion(ctx: Context, scope: Scope, of: Broadcast): Promise<void> {
  if (!of.companion) return;
  const { when, channel, subject, body } = of.companion;
  const at = new Date(ctx.now());
  const { programId, audience, links, createdBy } = of;
  const companion = scope.em.create(Broadcast, {
    ...freshBroadcast(ctx, scope, createdBy),
    ...{ programId, audience, links, channel, body, subject: channel === 'email' ? subject : null },
    ...{ comparison: null, companionOf: of.id, state: 'scheduled', sendAt: at, begunAt: at },
    name: `${cutText(of.name, NAME - 20)}, told ${when}`,
    timing: { ...of.timing, pace: null, local: null },
  });
  await scope.em.persistAndFlush(companion);
  await moveBroadcast(scope, companion.id, 'begin', at);
  await scope.run(
    `insert into broadcast_person (workspace_id, broadcast_id, person_id)
     select workspace_id, :id, person_id from broadcast_person where workspace_id = :workspace and broadcast_id = :ofId`,
    { id: companion.id, ofId: of.id },
  );
  await setTiming(scope, companion.id, companion.timing);
  await noteItems(scope, { sendId: companion.id }, [body]);
}

/** Messages that wait for what is told before or after them, or that are told so. */
export const COMPANION_QUEUE: Queue = {
  name: 'broadcast-companion',
  rows: {
    named: `(select name from broadcast b where b.workspace_id = :workspace and b.id = x.row_id)`,
    waits: `exists (select 1 from broadcast b where b.id = x.row_id and b.companion_of is not null)`,
  },
  everyMs: 1_000,
  giveUp: (ctx, scope, id) => stopBroadcast(ctx, scope, id).then(() => ok(null)),
  due: async (reading, untroubled, at) =>
    asDue(await dueCompanions(reading, untroubled('b.id'), at, AT_ONCE)),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, (scope) => followCompanion(ctx, scope, id)),
};

async function followCompanion(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const at = ctx.now();
  const locked = await lockCompanion(scope, id);
  if (!locked) return false;
  const { ofId, companion, timing, goes, state, ofState } = locked;
  const { when, minutes } = companion;
  const own = { sendId: id, otherId: ofId, alone: ofState !== 'preparing' };
  if (when === 'after')
    return giveOut(scope, at, { ...own, turn: (other) => turnAfter(other, minutes, at), why: NOTHING_LEFT });
  // Whose broadcast has no pace has their turn when it begins.
  if (!timing.pace && goes === 'on') await giveTurns(scope, ofId, SLICE, { at: new Date(at), told: true });
  const told = await giveOut(scope, at, {
    ...own,
    ...{ turn: (other) => turnOfTelling(other, at), why: NOTHING_COMES },
  });
  const called = await giveOut(scope, at, {
    ...{ sendId: ofId, otherId: id, alone: state !== 'preparing' },
    ...{ turn: (other) => turnOfTold(other, minutes, at), why: '' },
  });
  return told || called;
}

const NOTHING_LEFT = 'no voicemail was left that it follows';
const NOTHING_COMES = 'no voicemail comes that it tells of';

/** Whoever may go now goes, and whoever never will is called back. True: somebody. */
async function giveOut(
  scope: Scope,
  at: Millis,
  {
    turn,
    why,
    ...asked
  }: {
    sendId: string;
    otherId: string;
    alone: boolean;
    turn(other: OtherMessage | null): CompanionTurn;
    why: string;
  },
): Promise<boolean> {
  const says = (state: OtherMessage['state'], hasTurn: boolean): boolean =>
    turn({ state, hasTurn, submittedAt: null, settledAt: null }) !== 'waits';
  const pairs = await waitingPairs(
    scope,
    {
      ...asked,
      settled: TEXT_STATES.filter((state) => says(state, false)),
      withTurn: says('queued', true),
    },
    SLICE,
  );
  const [going, never] = [[] as { id: string; at: Date }[], [] as string[]];
  for (const { id, other } of pairs) {
    const theirs = turn(other);
    if (theirs === 'never') never.push(id);
    else if (theirs !== 'waits') going.push({ id, at: new Date(theirs.go) });
  }
  if (going.length > 0) await letGo(scope, going);
  if (never.length > 0) await callBack(scope, 'id = any(:never::text[])', { never }, new Date(at), why);
  if (pairs.length > 0) await announce(scope, true);
  return pairs.length > 0;
}
