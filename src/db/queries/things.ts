import type { NamedThing } from '@/core/audience/suggest';
import type { Scope } from '../scope';

/** Everything a condition can name, with its name: newest broadcasts, imports and batches first. */
export const namesOfThings = (scope: Scope): Promise<NamedThing[]> =>
  scope.rows<NamedThing>(
    `(select kind, id, name from label where workspace_id = :workspace order by lower(name))
     union all (select 'stage', id, name from stage where workspace_id = :workspace order by position, id)
     union all (select 'program', id, name from program where workspace_id = :workspace order by id)
     union all (select 'broadcast', id, name from broadcast where workspace_id = :workspace and state <> 'draft' order by id desc)
     union all (select 'segment', id, name from segment where workspace_id = :workspace order by position, lower(name))
     union all (select 'import', id, name from import where workspace_id = :workspace and state in ('running', 'finished', 'stopped') order by id desc)
     union all (select 'batch', id, name from batch where workspace_id = :workspace order by id desc limit 500)
     union all (select 'teammate', a.id, a.name from membership m join account a on a.id = m.account_id
       where m.workspace_id = :workspace and m.role <> 'counter' order by a.name)`,
  );
