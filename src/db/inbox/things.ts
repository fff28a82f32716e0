import type { Scope } from '../kit/scope';

/** Something whose replies can all be one teammate's. */
export interface Thing {
  id: string;
  kind: 'program' | 'number' | 'source';
  name: string;
}

/** Programs, numbers and sources in use, by name. */
export const thingsOfRules = (scope: Scope): Promise<Thing[]> =>
  scope.rows<Thing>(
    `select id, kind, name from (
       select id, 'program' as kind, name, 1 as place from program where workspace_id = :workspace and archived_at is null
       union all select id, 'number', number, 2 from sender_number where workspace_id = :workspace and released_at is null
       union all select id, 'source', name, 3 from source where workspace_id = :workspace) x order by place, lower(name)`,
  );

/** By which source people inquired last; who never did is left out. */
export async function lastSources(scope: Scope, people: readonly string[]): Promise<Map<string, string>> {
  const rows = await scope.rows<{ person_id: string; source_id: string }>(
    `select distinct on (person_id) person_id, source_id from inquiry where workspace_id = :workspace and person_id = any(:people::text[]) order by person_id, at desc`,
    { people: [...people] },
  );
  return new Map(rows.map(({ person_id, source_id }) => [person_id, source_id]));
}
