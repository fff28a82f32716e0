import type { Millis } from '@/core/shared/instant';
import { Broadcast } from '@/db/sends/entities';
import type { Scope } from '@/db/kit/scope';
import { addRows, looseCounts, stackCounts, type StackCounts } from '@/db/stacks/stacks';
import { teamOf } from '@/db/inquiries/inquiries';
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
  };
}

export type { StackCounts };
