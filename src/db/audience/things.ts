import type { NamedThing } from '@/core/audience/suggest';
import type { Scope } from '@/db/kit/scope';
import { SEEN_SEGMENT } from './seen';

/** What a segment is called for somebody who does not see it. */
export const HIDDEN_SEGMENT = 'a colleague’s own segment';

/**
 * Everything a condition can name, with its name: newest broadcasts, imports and batches first. A segment that the
 * viewer does not see stands there without its name, so that a condition which rests on it can still be read.
 */
export const namesOfThings = (scope: Scope, viewer: string | null = null): Promise<NamedThing[]> =>
  scope.rows<NamedThing>(
    `(select kind, id, name from label where workspace_id = :workspace order by lower(name))
     union all (select 'stage', id, name from stage where workspace_id = :workspace order by position, id)
     union all (select 'program', id, name from program where workspace_id = :workspace order by id)
     union all (select 'broadcast', id, name from broadcast where workspace_id = :workspace and state <> 'draft' order by id desc)
     union all (select 'segment', s.id, case when ${SEEN_SEGMENT} then s.name else :hidden end
       from segment s where s.workspace_id = :workspace order by s.position, lower(s.name))
     union all (select 'import', id, name from import where workspace_id = :workspace and state in ('running', 'finished', 'stopped') order by id desc)
     union all (select 'batch', id, name from batch where workspace_id = :workspace order by id desc limit 500)
     union all (select 'offer', id, name from offer where workspace_id = :workspace order by lower(name))
     union all (select 'sequence', id, name from sequence where workspace_id = :workspace and version is not null order by lower(name))
     union all (select 'source', id, name from source where workspace_id = :workspace order by lower(name))
     union all (select 'step', q.id || '.' || (l ->> 'id'), q.name || ': ' || left(coalesce(l -> 'what' ->> 'subject', l -> 'what' ->> 'body'), 40)
       from sequence q cross join lateral jsonb_path_query(q.draft, 'strict $.**') l
       where q.workspace_id = :workspace and q.version is not null and jsonb_typeof(l) = 'object' and l -> 'what' ->> 'body' is not null order by lower(q.name))
     union all (select 'item', id, number || ' ' || name from item where workspace_id = :workspace order by starts_at desc nulls last, id desc limit 1000)
     union all (select 'teammate', a.id, a.name from membership m join account a on a.id = m.account_id
       where m.workspace_id = :workspace and m.role <> 'counter' order by a.name)`,
    { viewer, hidden: HIDDEN_SEGMENT },
  );
