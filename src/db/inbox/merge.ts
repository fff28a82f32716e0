import type { Scope } from '@/db/kit/scope';

/** What somebody wrote goes along when they are merged. Gives the ids. */
export const moveInbound = async (scope: Scope, keptId: string, goneId: string): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `update inbound_text set person_id = :keptId where workspace_id = :workspace and person_id = :goneId returning id`,
      { keptId, goneId },
    )
  ).map(({ id }) => id);

/** It comes back, and what came from their number since the merge is theirs too. */
export const giveBackInbound = (
  scope: Scope,
  { keptId, goneId, at }: { keptId: string; goneId: string; at: Date },
  ids: readonly string[],
  number: string,
): Promise<number> =>
  scope.run(
    `update inbound_text set person_id = :goneId where workspace_id = :workspace and person_id = :keptId
          and (id = any(:ids::text[]) or (at >= :at and from_number = :number))`,
    { keptId, goneId, at, ids, number },
  );

/** Who is being opted out is, under whichever name; of two that are, the kept one's stands. It does not come back at an undo. */
export async function moveLeaving(scope: Scope, keptId: string, goneId: string): Promise<void> {
  await scope.run(
    `update leaving set person_id = :keptId where workspace_id = :workspace and person_id = :goneId
        and not exists (select 1 from leaving k where k.workspace_id = :workspace and k.person_id = :keptId)`,
    { keptId, goneId },
  );
  await scope.run(`delete from leaving where workspace_id = :workspace and person_id = :goneId`, { goneId });
}
