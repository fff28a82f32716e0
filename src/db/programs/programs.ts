import { STANDS } from '@/db/consent/joined';
import type { Scope } from '@/db/kit/scope';

export interface ProgramRow {
  id: string;
  name: string;
  purpose: string;
  promise_count: number | null;
  promise_period: 'week' | 'month';
  archived_at: Date | null;
  keywords: string[];
  members: number;
  left: number;
  joined_30: number;
  left_30: number;
}

export const programRows = (scope: Scope, since: Date): Promise<ProgramRow[]> =>
  scope.rows<ProgramRow>(
    `select g.id, g.name, g.purpose, g.promise_count, g.promise_period, g.archived_at,
            coalesce((select array_agg(k.word order by k.word) from keyword k where k.program_id = g.id), '{}') as keywords,
            (select count(*) from consent_state c where c.workspace_id = :workspace and c.program_id = g.id and c.channel = 'sms' and c.state = 'in' and c.current)::int
              + (select count(distinct c.person_id) from consent_state c where c.workspace_id = :workspace and c.program_id = g.id and c.channel <> 'sms' and c.state = 'in' and c.current
                   and not exists (select 1 from consent_state o where o.person_id = c.person_id and o.program_id = g.id and o.channel = 'sms' and o.state = 'in' and o.current))::int as members,
            (select count(distinct c.person_id) from consent_state c where c.workspace_id = :workspace and c.program_id = g.id and c.state = 'out' and c.was_in and c.current)::int as left,
            (select count(distinct e.person_id) from consent_event e join person p on p.id = e.person_id and p.merged_into is null
              where e.program_id = g.id and e.kind = 'opted-in' and e.at > :since and ${STANDS})::int as joined_30,
            (select count(distinct e.person_id) from consent_event e join consent_state c on c.event_id = e.id and c.current where e.program_id = g.id and e.kind = 'opted-out' and c.was_in and e.at > :since)::int as left_30
       from program g where g.workspace_id = :workspace order by g.id`,
    { since },
  );

export interface SourceRow {
  source: string;
  joined: number;
  left: number;
}

/** Where members came from: by keyword, or by the method and source of their consent. */
export const programSources = (scope: Scope, programId: string): Promise<SourceRow[]> =>
  scope.rows<SourceRow>(
    `select source, count(*)::int as joined, count(*) filter (where state = 'out')::int as left from (
       select distinct on (e.person_id) coalesce(upper(i.keyword), e.evidence ->> 'source', e.method) as source, c.state
         from consent_event e join consent_state c on c.person_id = e.person_id and c.program_id = e.program_id and c.channel = e.channel and c.address = e.address
           join person p on p.id = e.person_id and p.merged_into is null
         left join inbound_text i on i.id = e.evidence ->> 'inboundTextId'
        where e.workspace_id = :workspace and e.program_id = :programId and e.kind = 'opted-in' and ${STANDS} order by e.person_id, e.seq) s
      group by source order by joined desc limit 20`,
    { programId },
  );

/** People who are in a program by any channel. */
export const membersOf = async (scope: Scope, programId: string): Promise<number> =>
  (
    await scope.rows<{ people: number }>(
      `select count(distinct person_id)::int as people from consent_state where workspace_id = :workspace and program_id = :programId and state = 'in' and current`,
      { programId },
    )
  )[0]!.people;

export interface AheadOfProgram {
  kind: 'broadcast' | 'sequence';
  id: string;
  name: string;
  state: string;
  at: Date | null;
}

/** What goes on or lies ahead under a program: a change reaches its next message. */
export const aheadOfProgram = (scope: Scope, programId: string): Promise<AheadOfProgram[]> =>
  scope.rows<AheadOfProgram>(
    `select 'broadcast' as kind, id, name, state, send_at as at from broadcast
      where workspace_id = :workspace and program_id = :programId and state in ('scheduled', 'preparing', 'sending', 'paused')
      union all
     select 'sequence', id, name, state, null from sequence where workspace_id = :workspace and program_id = :programId and state in ('running', 'paused')
      order by kind, name limit 50`,
    { programId },
  );
