import type { Scope } from '@/db/kit/scope';

export interface KeywordCounts {
  texts: number;
  people: number;
  joined: number;
  still_in: number;
}

/** What came of a keyword: how often and by how many it was texted, and who joined its program by it. */
export const keywordCounts = async (
  scope: Scope,
  { word, programId }: { word: string; programId: string },
): Promise<KeywordCounts> =>
  (
    await scope.rows<KeywordCounts>(
      `with joined as (
         select distinct e.person_id from consent_event e left join inbound_text i on i.id = e.evidence ->> 'inboundTextId'
           join person p on p.id = e.person_id and p.merged_into is null
          where e.workspace_id = :workspace and e.program_id = :programId and e.kind = 'opted-in' and coalesce(e.evidence ->> 'keyword', i.keyword) = :word)
       select (select count(*) from inbound_text where workspace_id = :workspace and keyword = :word)::int as texts,
              (select count(distinct person_id) from inbound_text where workspace_id = :workspace and keyword = :word)::int as people,
              (select count(*) from joined)::int as joined,
              (select count(distinct c.person_id) from consent_state c join joined j on j.person_id = c.person_id
                where c.workspace_id = :workspace and c.program_id = :programId and c.state = 'in' and c.current)::int as still_in`,
      { word, programId },
    )
  )[0]!;
