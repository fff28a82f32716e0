import type { Scope } from '@/db/kit/scope';

/**
 * Who was in a sequence goes on in it as the one that is kept; where both are in the same one, the way of the one that
 * goes is over. Gives the ids that moved.
 */
export async function mergeEnrolments(
  scope: Scope,
  { keptId, goneId, at }: { keptId: string; goneId: string; at: Date },
): Promise<string[]> {
  await scope.run(
    `update enrolment g set state = 'ended', line = null, due_at = null, look_at = null, ended_at = :at, ended_why = 'merged'
      where g.workspace_id = :workspace and g.person_id = :goneId and g.state <> 'ended'
        and exists (select 1 from enrolment k where k.workspace_id = g.workspace_id and k.person_id = :keptId and k.sequence_id = g.sequence_id and k.state <> 'ended')`,
    { keptId, goneId, at },
  );
  const moved = await scope.rows<{ id: string }>(
    `update enrolment set person_id = :keptId where workspace_id = :workspace and person_id = :goneId returning id`,
    { keptId, goneId },
  );
  return moved.map(({ id }) => id);
}

/** What moved comes back, except where they are in the same sequence by now. */
export const giveBackEnrolments = (scope: Scope, goneId: string, ids: readonly string[]): Promise<number> =>
  scope.run(
    `update enrolment g set person_id = :goneId where g.workspace_id = :workspace and g.id = any(:ids::text[])
        and (g.state = 'ended' or not exists (select 1 from enrolment k where k.person_id = :goneId and k.sequence_id = g.sequence_id and k.state <> 'ended'))`,
    { goneId, ids },
  );
