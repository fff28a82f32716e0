import { CALLED } from '@/db/people/addresses';
import type { Scope } from '@/db/kit/scope';

export const nameTaken = async (scope: Scope, name: string, except: string | null): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from sequence where workspace_id = :workspace and lower(name) = lower(:name) and id is distinct from :except`,
      { name, except },
    )
  ).length > 0;

/** What waits of a paused sequence is not due until it goes on; each message is cleared again then. */
export const wakeMessages = (scope: Scope, sequenceId: string, notBefore: string): Promise<number> =>
  scope.run(
    `update message set not_before = :notBefore::timestamptz where workspace_id = :workspace and send_id = :sequenceId and not_before is not null`,
    { sequenceId, notBefore },
  );

export interface LineCount {
  line: string;
  waiting: number;
  through: number;
  passed: number;
}

/** By line: who waits there now, who went through, who was passed over. */
export const lineCounts = (scope: Scope, sequenceId: string): Promise<LineCount[]> =>
  scope.rows<LineCount>(
    `select line, sum(waiting)::int as waiting, sum(through)::int as through, sum(passed)::int as passed from (
       select line, count(*) as waiting, 0 as through, 0 as passed from enrolment
        where workspace_id = :workspace and sequence_id = :sequenceId and state <> 'ended' and line is not null group by line
       union all
       select line, 0, count(*) filter (where because is null), count(*) filter (where because is not null) from enrolment_line
        where workspace_id = :workspace and sequence_id = :sequenceId group by line) counted group by line`,
    { sequenceId },
  );

export interface PassCount {
  line: string;
  because: string;
  people: number;
}

export const passCounts = (scope: Scope, sequenceId: string): Promise<PassCount[]> =>
  scope.rows<PassCount>(
    `select line, because, count(*)::int as people from enrolment_line
      where workspace_id = :workspace and sequence_id = :sequenceId and because is not null group by 1, 2 order by 3 desc`,
    { sequenceId },
  );

export interface LineResult {
  line: string;
  delivered: number;
  failed: number;
  replies: number;
  clicks: number;
  opt_outs: number;
  credits: number;
}

/**
 * What came of each line's messages. A reply, a click and an opt-out belong to the last message before them; a person
 * counts once.
 */
export const lineResults = (scope: Scope, sequenceId: string): Promise<LineResult[]> =>
  scope.rows<LineResult>(
    `select split_part(m.step_id, '.', 2) as line, count(*) filter (where m.state = 'delivered')::int as delivered, count(*) filter (where m.state = 'failed')::int as failed,
            coalesce(sum(m.credits) filter (where m.submitted_at is not null), 0)::int as credits,
            (select count(distinct i.person_id)::int from inbound_text i join message x on x.id = i.after_text_id
              where x.workspace_id = :workspace and i.after_send_id = :sequenceId and x.step_id = m.step_id and i.meaning in ('reply', 'unclear')) as replies,
            (select count(distinct i.person_id)::int from inbound_text i join message x on x.id = i.after_text_id
              where x.workspace_id = :workspace and i.after_send_id = :sequenceId and x.step_id = m.step_id and i.meaning = 'opt-out') as opt_outs,
            (select count(distinct g.person_id)::int from engagement g join message x on x.id = g.text_id
              where x.workspace_id = :workspace and g.send_id = :sequenceId and x.step_id = m.step_id and g.kind = 'clicked') as clicks
       from message m where m.workspace_id = :workspace and m.send_id = :sequenceId and m.step_id is not null group by m.step_id`,
    { sequenceId },
  );

/** When replies came, counted in days since the person began: one row a day and line. */
export const repliesByDay = (
  scope: Scope,
  sequenceId: string,
): Promise<{ line: string; day: number; people: number }[]> =>
  scope.rows(
    `select line, day, count(*)::int as people from (
       select distinct on (i.person_id, m.step_id) split_part(m.step_id, '.', 2) as line, floor(extract(epoch from i.at - e.began_at) / 86400)::int as day
         from message m join inbound_text i on i.after_text_id = m.id join enrolment e on e.id = m.enrolment_id
        where m.workspace_id = :workspace and i.after_send_id = :sequenceId and i.meaning in ('reply', 'unclear') order by i.person_id, m.step_id, i.at) first
      group by 1, 2 order by 2, 1`,
    { sequenceId },
  );

export interface VersionResultRow {
  version: number;
  began: number;
  replied: number;
  opt_outs: number;
  /** Hours from the beginning to the first reply: of a quarter, half and three quarters of those who replied. */
  hours: number[] | null;
}

/** What came of each version, by the one people are on; and of all of them together, as version 0. */
export const versionResults = (scope: Scope, sequenceId: string): Promise<VersionResultRow[]> =>
  scope.rows(
    `with first as (
       select distinct on (m.enrolment_id) m.enrolment_id, i.at from message m join inbound_text i on i.after_text_id = m.id
        where m.workspace_id = :workspace and i.after_send_id = :sequenceId and i.meaning in ('reply', 'unclear') order by m.enrolment_id, i.at)
     select coalesce(e.version, 0) as version, count(*)::int as began, count(f.at)::int as replied,
            count(*) filter (where e.ended_why = 'opted-out')::int as opt_outs,
            percentile_cont(array[0.25, 0.5, 0.75]) within group (order by extract(epoch from f.at - e.began_at) / 3600) as hours
       from enrolment e left join first f on f.enrolment_id = e.id
      where e.workspace_id = :workspace and e.sequence_id = :sequenceId group by rollup (e.version) order by 1`,
    { sequenceId },
  );

export interface SequenceCounts {
  sequence_id: string;
  open: number;
  ended: number;
  replied: number;
  /** In their grace: nothing was sent to them yet. */
  in_grace: number;
  began_7: number;
}

export const sequenceCounts = (scope: Scope, ids: readonly string[], at: Date): Promise<SequenceCounts[]> =>
  scope.rows<SequenceCounts>(
    `select sequence_id, count(*) filter (where state <> 'ended')::int as open, count(*) filter (where state = 'ended')::int as ended,
            count(*) filter (where ended_why = 'replied' or acted ? 'reply')::int as replied,
            count(*) filter (where state = 'waiting' and left_at is null and not_before > :at)::int as in_grace,
            count(*) filter (where began_at > :at::timestamptz - interval '7 days')::int as began_7
       from enrolment where workspace_id = :workspace and sequence_id = any(:ids::text[]) group by 1`,
    { ids, at },
  );

/** Who is on which version. */
export const versionCounts = (
  scope: Scope,
  sequenceId: string,
): Promise<{ version: number; people: number }[]> =>
  scope.rows(
    `select version, count(*)::int as people from enrolment where workspace_id = :workspace and sequence_id = :sequenceId and state <> 'ended' group by 1 order by 1`,
    { sequenceId },
  );

/** Those who are still in their grace: nothing was sent to them. */
export const graceIds = async (scope: Scope, sequenceId: string, at: Date, most: number): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `select id from enrolment where workspace_id = :workspace and sequence_id = :sequenceId and state = 'waiting' and left_at is null and not_before > :at order by id limit :most`,
      { sequenceId, at, most },
    )
  ).map(({ id }) => id);

export interface PersonAt {
  enrolment_id: string;
  person_id: string;
  name: string | null;
  line: string | null;
  state: string;
  due_at: Date | null;
  not_before: Date | null;
  began_at: Date;
  version: number;
}

/** Who is in a sequence, or waits at one of its lines; the next due first. */
export const peopleAt = (scope: Scope, sequenceId: string, line: string | null): Promise<PersonAt[]> =>
  scope.rows<PersonAt>(
    `select e.id as enrolment_id, e.person_id, e.line, e.state, e.due_at, e.not_before, e.began_at, e.version,
            coalesce(nullif(trim(coalesce(p.first_name, '') || ' ' || coalesce(p.last_name, '')), ''), ${CALLED}) as name
       from enrolment e join person p on p.id = e.person_id
      where e.workspace_id = :workspace and e.sequence_id = :sequenceId and e.state <> 'ended' and (:line::text is null or e.line = :line)
      order by e.due_at nulls last, e.id limit 500`,
    { sequenceId, line },
  );

/** What a message of a sequence cost so far, in credits. */
export const averageCost = async (scope: Scope, sequenceId: string): Promise<number> => {
  const [row] = await scope.rows<{ cost: number | null }>(
    `select avg(credits)::float8 as cost from (select credits from message where workspace_id = :workspace and send_id = :sequenceId and submitted_at is not null limit 5000) recent`,
    { sequenceId },
  );
  return row?.cost ?? 0;
};

/** Every version of every sequence, without its document. */
export const versionsThere = (scope: Scope): Promise<{ sequence_id: string; version: number }[]> =>
  scope.rows(`select sequence_id, version from sequence_version where workspace_id = :workspace`);

/** A door that names a sequence as what it begins. */
export interface BegunBy {
  by: 'keyword' | 'form' | 'source' | 'outcome';
  id: string;
  name: string;
  /** Of a source: for which kind; empty: for every kind. */
  kind: string;
}

export const begunBy = (scope: Scope, sequenceId: string): Promise<BegunBy[]> =>
  scope.rows(
    `select 'keyword' as by, k.id, k.word as name, '' as kind from keyword_sequence x join keyword k on k.id = x.keyword_id
      where x.workspace_id = :workspace and x.sequence_id = :sequenceId
     union all select 'form', f.id, f.name, '' from form_sequence x join form f on f.id = x.form_id
      where x.workspace_id = :workspace and x.sequence_id = :sequenceId
     union all select 'source', s.id, s.name, x.kind from source_sequence x join source s on s.id = x.source_id
      where x.workspace_id = :workspace and x.sequence_id = :sequenceId
     union all select 'outcome', o.id, o.name, '' from call_outcome o
      where o.workspace_id = :workspace and o.sequence_id = :sequenceId
     order by 1, 3, 4`,
    { sequenceId },
  );
