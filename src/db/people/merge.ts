import type { Scope } from '@/db/kit/scope';

interface Of {
  keptId: string;
  goneId: string;
  at: Date;
}

/** Tags and lists go along when somebody is merged. Gives the ids. */
export async function moveLabels(scope: Scope, { keptId, goneId, at }: Of): Promise<string[]> {
  const labels = await scope.rows<{ id: string }>(
    `delete from person_label where workspace_id = :workspace and person_id = :goneId returning label_id as id`,
    { goneId },
  );
  const ids = labels.map(({ id }) => id);
  await insertLabels(scope, keptId, ids, at);
  return ids;
}

export const giveBackLabels = (
  scope: Scope,
  { goneId, at }: Of,
  labels: readonly string[],
): Promise<number> => insertLabels(scope, goneId, labels, at);

/** Labels that are not there any more are left out. */
const insertLabels = (scope: Scope, personId: string, labels: readonly string[], at: Date): Promise<number> =>
  scope.run(
    `insert into person_label (workspace_id, label_id, person_id, at) select :workspace, l.id, :personId, :at from unnest(:labels::text[]) as u (id)
        join label l on l.id = u.id and l.workspace_id = :workspace on conflict do nothing`,
    { personId, labels, at },
  );
