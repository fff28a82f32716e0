import { CALLED } from '@/db/people/addresses';
import type { Scope } from '@/db/kit/scope';

export interface ThreadRow {
  id: string;
  address: string | null;
  first_name: string | null;
  last_name: string | null;
  waiting_since: Date;
  unclear_since: Date | null;
  body: string | null;
  at: Date | null;
  near_keyword: string | null;
  meaning: string | null;
}

/**
 * People whose reply waits, the longest wait first, with their last words. `asking`: without those who nearly typed a
 * keyword, who are seen together where that is mended.
 */
export const waitingThreads = (
  scope: Scope,
  { most, asking }: { most: number; asking: boolean },
): Promise<ThreadRow[]> =>
  scope.rows<ThreadRow>(
    `select p.id, ${CALLED} as address, p.first_name, p.last_name, p.waiting_since, p.unclear_since,
            case when q.at > coalesce(i.at, '-infinity') then q.kind || ': ' || q.words else i.body end as body, greatest(i.at, q.at) as at,
            case when q.at > coalesce(i.at, '-infinity') then null else i.near_keyword end as near_keyword, case when q.at > coalesce(i.at, '-infinity') then 'inquiry' else i.meaning end as meaning
       from person p left join lateral (select kind, words, at from inquiry where person_id = p.id and workspace_id = :workspace order by at desc limit 1) q on true
       left join lateral (
         select body, at, near_keyword, meaning from inbound_text where person_id = p.id and workspace_id = :workspace order by at desc, id desc limit 1) i on true
      where p.workspace_id = :workspace and p.waiting_since is not null and (not :asking or i.near_keyword is null) order by (p.unclear_since is null), p.waiting_since limit :most`,
    { most, asking },
  );
