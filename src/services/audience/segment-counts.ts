import { toIso, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import type { Segment } from '@/db/audience/entities';
import { Segment as Segments } from '@/db/audience/entities';
import { countPeople, giveRoom } from '@/db/audience/cut';
import { countsAWeekAgo, keepCount, segmentsToCount } from '@/db/audience/segment-counts';
import { inWorkspace, TookTooLong, type Scope } from '@/db/kit/scope';
import { asDue, type Queue } from '@/services/kit/trouble';
import type { Refusal } from '@/services/kit/validation';
import { audienceContext, cutOf, planCondition } from './audience';
import { visibleSegments } from './segments';

const dayOf = (at: Millis): string => toIso(at).slice(0, 10);

/** How many segments are counted in a row before others have their turn. */
const IN_A_TURN = 20;

/** Each segment is counted once a day, so that its change since last week can be told. */
export const SEGMENT_QUEUE: Queue = {
  name: 'segment-count',
  rows: {
    named: `(select name from segment s where s.workspace_id = :workspace and s.id = x.row_id)`,
    waits: `exists (select 1 from segment s where s.id = x.row_id)`,
  },
  everyMs: 30_000,
  due: async (reading, untroubled, at) =>
    asDue(
      await segmentsToCount(reading, untroubled('s.id'), { day: dayOf(at.getTime()), at, most: IN_A_TURN }),
    ),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, async (scope) => {
      const segment = await scope.em.findOne(Segments, { id });
      if (!segment) return false;
      await giveRoom(scope, 'worker');
      const people = await countOf(scope, segment, ctx.now());
      await keepCount(scope, { segmentId: id, day: dayOf(ctx.now()), version: segment.version, people });
      return true;
    }),
  // Not counted today is no more than that: it is counted tomorrow.
  giveUp: async (ctx, scope, id) => {
    const segment = await scope.em.findOne(Segments, { id });
    if (segment)
      await keepCount(scope, {
        ...{ segmentId: id, day: dayOf(ctx.now()), version: segment.version, people: null },
      });
    return ok(null);
  },
};

/** Null: it asks for something that is gone. */
async function countOf(scope: Scope, segment: Segment, now: Millis): Promise<number | null> {
  const plan = planCondition(segment.condition, await audienceContext(scope, now));
  return plan.ok ? countPeople(scope, cutOf(plan.value, '')) : null;
}

export interface SegmentCount {
  /** Null: it asks for something that is gone, or there was no time to count it. */
  count: number | null;
  /** Since a week ago; null: it was not there then, or asked something else. */
  change: number | null;
}

/** What all counts together may take: somebody looks at the page. */
const PATIENCE: Millis = 6_000;

/** The segments somebody sees with how many are in each now, and how many there are in all. */
export async function countSegments(
  scope: Scope,
  accountId: string,
  now: Millis,
): Promise<Result<{ everybody: number; counts: Record<string, SegmentCount> }, Refusal>> {
  const segments = await visibleSegments(scope, accountId);
  const before = await countsAWeekAgo(scope, dayOf(now));
  await giveRoom(scope);
  const everybody = await countPeople(scope, cutOf({ op: 'and', of: [] }, ''));
  const counts: Record<string, SegmentCount> = {};
  const began = performance.now();
  for (const segment of segments) {
    if (performance.now() - began > PATIENCE) break;
    const counted = await scope.attempt(() => countOf(scope, segment, now));
    if (!counted.ok && !(counted.error instanceof TookTooLong)) throw counted.error;
    const count = counted.ok ? counted.value : null;
    const then = before.get(segment.id);
    counts[segment.id] = {
      count,
      change: count === null || then === undefined ? null : count - then,
    };
  }
  return ok({ everybody, counts });
}
