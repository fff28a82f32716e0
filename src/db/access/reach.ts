import { kindsThat } from '@/core/message/kinds';
import { sqlList } from '@/db/kit/sql';
import type { Scope } from '@/db/kit/scope';

/** How many people got how many counting messages since an instant: so many got `sent` or more. */
export const messagesInWeek = (scope: Scope, since: Date): Promise<{ sent: number; people: number }[]> =>
  scope.rows(
    `with each as (
       select person_id, count(*) as sent from message
        where workspace_id = :workspace and submitted_at > :since and kind in (${sqlList(kindsThat(({ counts }) => counts))}) group by person_id)
     select n as sent, (select count(*)::int from each where each.sent >= n) as people from generate_series(1, 100) n`,
    { since },
  );

/** Where people are taken to live, by their address or the area code of their number. */
export const peopleByRegion = (scope: Scope): Promise<{ region: string; people: number }[]> =>
  scope.rows(
    `select place_region as region, count(*)::int as people from person
      where workspace_id = :workspace and place_region is not null and merged_into is null and erased_at is null group by 1`,
  );
