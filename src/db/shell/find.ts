import type { Scope } from '@/db/kit/scope';

/** Names and places for the command box. */
export const findAnything = (
  scope: Scope,
  search: string,
  digits: string,
): Promise<{ kind: 'person' | 'broadcast' | 'program' | 'sequence'; id: string; label: string }[]> =>
  scope.rows(
    `(select 'person' as kind, id, coalesce(nullif(trim(coalesce(first_name, '') || ' ' || coalesce(last_name, '')), ''), number) as label from person
       where workspace_id = :workspace and merged_into is null and erased_at is null
         and (search like '%' || lower(:search) || '%' or (:digits <> '' and search like '%' || :digits || '%')) order by id desc limit 6)
     union all
     (select 'broadcast', id, name from broadcast where workspace_id = :workspace and name ilike '%' || :search || '%' order by id desc limit 5)
     union all
     (select 'program', id, name from program where workspace_id = :workspace and name ilike '%' || :search || '%' order by id limit 5)
     union all
     (select 'sequence', id, name from sequence where workspace_id = :workspace and name ilike '%' || :search || '%' order by id limit 5)`,
    { search, digits },
  );
