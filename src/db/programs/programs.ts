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
}

export const programRows = (scope: Scope): Promise<ProgramRow[]> =>
  scope.rows<ProgramRow>(
    `select g.id, g.name, g.purpose, g.promise_count, g.promise_period, g.archived_at,
            coalesce((select array_agg(k.word order by k.word) from keyword k where k.workspace_id = :workspace and k.program_id = g.id), '{}') as keywords
       from program g where g.workspace_id = :workspace order by g.id`,
  );

/** People of a program: who is in by any channel, who left, and who did either in thirty days. */
export interface ProgramFigures {
  members: number;
  left: number;
  joined30: number;
  left30: number;
  sources: SourceRow[];
}

/** Counts people of programs, of one or of all. */
export const countMembers = (
  scope: Scope,
  { since, program = null }: { since: Date; program?: string | null },
): Promise<(Omit<ProgramFigures, 'sources'> & { id: string })[]> =>
  scope.rows(
    `select g.id,
            (select count(*) from consent_state c where c.workspace_id = :workspace and c.program_id = g.id and c.channel = 'sms' and c.state = 'in' and c.current)::int
              + (select count(distinct c.person_id) from consent_state c where c.workspace_id = :workspace and c.program_id = g.id and c.channel <> 'sms' and c.state = 'in' and c.current
                   and not exists (select 1 from consent_state o where o.person_id = c.person_id and o.program_id = g.id and o.channel = 'sms' and o.state = 'in' and o.current))::int as members,
            (select count(distinct c.person_id) from consent_state c where c.workspace_id = :workspace and c.program_id = g.id and c.state = 'out' and c.was_in and c.current)::int as left,
            (select count(distinct e.person_id) from consent_event e join person p on p.id = e.person_id and p.merged_into is null
              where e.workspace_id = :workspace and e.program_id = g.id and e.kind = 'opted-in' and e.at > :since and ${STANDS})::int as "joined30",
            (select count(distinct e.person_id) from consent_event e join consent_state c on c.event_id = e.id and c.current
              where e.workspace_id = :workspace and e.program_id = g.id and e.kind = 'opted-out' and c.was_in and e.at > :since)::int as "left30"
       from program g where g.workspace_id = :workspace and (:program::text is null or g.id = :program)`,
    { since, program },
  );

export interface SourceRow {
  source: string;
  joined: number;
  left: number;
}

/** Where members came from: by keyword, or by the method and source of their consent. */
export const programSources = (scope: Scope, programId: string): Promise<SourceRow[]> =>
  scope.rows<SourceRow>(
    `with e as materialized (
       select e.person_id, e.channel, e.address, e.seq, e.method, e.evidence ->> 'source' as source, e.evidence ->> 'inboundTextId' as text_id from consent_event e
        where e.workspace_id = :workspace and e.program_id = :programId and e.kind = 'opted-in' and ${STANDS})
     select source, count(*)::int as joined, count(*) filter (where state = 'out')::int as left from (
       select distinct on (e.person_id) coalesce(upper(i.keyword), e.source, e.method) as source, c.state
         from e join consent_state c on c.workspace_id = :workspace and c.program_id = :programId and c.person_id = e.person_id and c.channel = e.channel and c.address = e.address
           join person p on p.workspace_id = :workspace and p.id = e.person_id and p.merged_into is null
         left join inbound_text i on i.workspace_id = :workspace and i.id = e.text_id order by e.person_id, e.seq) s
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
