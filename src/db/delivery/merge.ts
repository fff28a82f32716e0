import type { Scope } from '@/db/kit/scope';

/** Texts go along when somebody is merged. Where both got one broadcast, the second stays with the pointer. Gives the ids. */
export async function moveTexts(scope: Scope, keptId: string, goneId: string): Promise<string[]> {
  const ids = { keptId, goneId };
  const moved = await scope.rows<{ id: string }>(
    `update message t set person_id = :keptId where t.workspace_id = :workspace and t.person_id = :goneId
        and (t.send_id is null or not exists (select 1 from message o where o.send_id = t.send_id and o.person_id = :keptId)) returning t.id`,
    ids,
  );
  await scope.run(
    `insert into last_text (person_id, workspace_id, at) select :keptId, :workspace, at from last_text where workspace_id = :workspace and person_id = :goneId
     on conflict (person_id) do update set at = greatest(last_text.at, excluded.at)`,
    ids,
  );
  return moved.map(({ id }) => id);
}

export const giveBackTexts = (scope: Scope, goneId: string, ids: readonly string[]): Promise<number> =>
  scope.run(
    `update message set person_id = :goneId where workspace_id = :workspace and id = any(:ids::text[])`,
    {
      goneId,
      ids,
    },
  );
