import type { Millis } from '@/core/shared/instant';
import { Broadcast } from '@/db/sends/entities';
import type { Scope } from '@/db/kit/scope';
import { addRows, atHand, looseCounts, pressedOf, stackCounts, type StackCounts } from '@/db/stacks/stacks';
import { teamOf } from '@/db/inquiries/inquiries';
import { readFacts } from './facts';
import { saidToTeam } from './words';

/** The manager's page: each stack as it stands, and what is nobody's. */
export async function readStacks(scope: Scope, sendId: string, now: Millis) {
  const broadcast = await scope.em.findOne(Broadcast, { id: sendId });
  if (!broadcast?.timing.pace || !('hands' in broadcast.timing.pace)) return null;
  await addRows(scope, sendId);
  return {
    broadcast: { id: broadcast.id, name: broadcast.name, state: broadcast.state },
    stacks: await stackCounts(scope, sendId, new Date(now)),
    ...(await looseCounts(scope, sendId)),
    ...{ team: await teamOf(scope), words: await saidToTeam({ now: () => now }, scope, sendId) },
    facts: await readFacts(scope, sendId),
  };
}

const MOST_READ = 200;
const NEXT_SHOWN = 3;

/** One stack as whoever runs the broadcast reads along: who is next, what was pressed, and what came of it. */
export async function readStack(scope: Scope, sendId: string, stackId: string, now: Millis) {
  const at = new Date(now);
  const counts = (await stackCounts(scope, sendId, at)).find(({ id }) => id === stackId);
  if (!counts) return null;
  const { name } = await scope.em.findOneOrFail(Broadcast, { id: sendId });
  return {
    ...{ broadcast: { id: sendId, name }, counts },
    next: counts.ended_at ? [] : await atHand(scope, stackId, at, NEXT_SHOWN),
    pressed: await pressedOf(scope, stackId, MOST_READ),
  };
}

export type { StackCounts };
