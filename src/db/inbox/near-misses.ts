import type { Scope } from '@/db/kit/scope';

export interface NearMissRow {
  person_id: string;
  body: string;
  near_keyword: string;
  at: Date;
  open: boolean;
}

/** Texts that were nearly a keyword. One is open while no human settled it and its writer wrote nothing since. */
export const nearMissRows = (
  scope: Scope,
  since: Date,
  keyword: string | null = null,
): Promise<NearMissRow[]> =>
  scope.rows<NearMissRow>(
    `select i.person_id, i.body, i.near_keyword, i.at,
            i.resolved_at is null and p.stopped_at is null and not exists (select 1 from inbound_text l where l.person_id = i.person_id and l.workspace_id = i.workspace_id
              and l.channel = 'sms' and l.meaning <> 'automatic' and (l.at, l.id) > (i.at, i.id)) as open
       from inbound_text i join person p on p.id = i.person_id and p.merged_into is null and p.erased_at is null
      where i.workspace_id = :workspace and i.near_keyword is not null and i.at > :since and (:keyword::text is null or i.near_keyword = :keyword)
      order by i.at desc limit 5000`,
    { since, keyword },
  );
