import type { Condition } from '@/core/audience/condition';
import type { BroadcastState } from '@/core/broadcast/lifecycle';
import type { Scope } from '@/db/kit/scope';
import { TEXTS_BY_PROGRAM } from '@/db/delivery/texts';

export interface HourRow {
  hour: Date;
  left: number;
  came: number;
  stopped: number;
}

/** What left and what came back, hour by hour. */
export const hoursPast = (scope: Scope, from: Date, to: Date): Promise<HourRow[]> =>
  scope.rows<HourRow>(
    `select hour, sum(sent)::int as left, sum(came)::int as came, sum(stopped)::int as stopped from (
       select date_trunc('hour', t.submitted_at) as hour, count(*) as sent, 0 as came, 0 as stopped from ${TEXTS_BY_PROGRAM}
        where g.workspace_id = :workspace and t.submitted_at >= :from and t.submitted_at < :to group by 1
       union all
       select date_trunc('hour', at), 0, count(*) filter (where meaning <> 'opt-out'), count(*) filter (where meaning = 'opt-out') from inbound_text
        where workspace_id = :workspace and at >= :from and at < :to group by 1) h group by hour order by hour`,
    { from, to },
  );

export interface ComingRow {
  hour: Date;
  texts: number;
}

/** Texts that wait for their hour. */
export const hoursAhead = (scope: Scope, from: Date, to: Date): Promise<ComingRow[]> =>
  scope.rows<ComingRow>(
    `select date_trunc('hour', greatest(not_before, :from)) as hour, count(*)::int as texts from text
      where workspace_id = :workspace and not_before < :to group by 1 order by 1`,
    { from, to },
  );

export interface UpcomingRow {
  id: string;
  name: string;
  send_at: Date;
  program: string;
}

export const upcomingBroadcasts = (scope: Scope): Promise<UpcomingRow[]> =>
  scope.rows<UpcomingRow>(
    `select b.id, b.name, b.send_at, g.name as program from broadcast b join program g on g.id = b.program_id
      where b.workspace_id = :workspace and b.state = 'scheduled' order by b.send_at limit 20`,
  );

export interface PlannedRow {
  id: string;
  name: string;
  send_at: Date;
  audience: Condition | null;
}

/** Scheduled broadcasts of the programs somebody is in. */
export const broadcastsAhead = (scope: Scope, personId: string): Promise<PlannedRow[]> =>
  scope.rows<PlannedRow>(
    `select b.id, b.name, b.send_at, b.audience from broadcast b
       join consent_state c on c.program_id = b.program_id and c.channel = 'sms' and c.state = 'in'
      where b.workspace_id = :workspace and b.state = 'scheduled' and c.person_id = :personId order by b.send_at limit 20`,
    { personId },
  );

export interface TodayRow {
  sent: number;
  delivered: number;
  failed: number;
  replies: number;
  joined: number;
  left: number;
  waiting: number;
  unclear: number;
  near: number;
  held: number;
}

export const todayCounts = async (scope: Scope, from: Date): Promise<TodayRow> => {
  const [row] = await scope.rows<TodayRow>(
    `select sent.*,
       (select count(*) from inbound_text where workspace_id = :workspace and at >= :from and meaning in ('reply', 'unclear'))::int as replies,
       (select count(distinct person_id) from consent_event where workspace_id = :workspace and at >= :from and kind = 'opted-in')::int as joined,
       (select count(distinct person_id) from consent_event where workspace_id = :workspace and at >= :from and kind = 'opted-out')::int as left,
       (select count(*) from person where workspace_id = :workspace and waiting_since is not null)::int as waiting,
       (select count(*) from person where workspace_id = :workspace and unclear_since is not null)::int as unclear,
       (select count(*) from inbound_text i join person p on p.id = i.person_id where i.workspace_id = :workspace and i.near_keyword is not null
          and i.resolved_at is null and p.waiting_since is not null)::int as near,
       (select count(*) from text where workspace_id = :workspace and not_before is not null)::int as held
       from (select count(*)::int as sent, count(*) filter (where t.state = 'delivered')::int as delivered,
                    count(*) filter (where t.state = 'failed')::int as failed
               from ${TEXTS_BY_PROGRAM} where g.workspace_id = :workspace and t.submitted_at >= :from) as sent`,
    { from },
  );
  return row!;
};

export interface BroadcastRow {
  id: string;
  name: string;
  program: string;
  program_id: string;
  state: BroadcastState;
  send_at: Date | null;
  begun_at: Date | null;
  created_at: Date;
}

export const broadcastRows = (scope: Scope, before: string, most: number): Promise<BroadcastRow[]> =>
  scope.rows<BroadcastRow>(
    `select b.id, b.name, b.program_id, g.name as program, b.state, b.send_at, b.begun_at, b.created_at
       from broadcast b join program g on g.id = b.program_id
      where b.workspace_id = :workspace and (:before = '' or b.id < :before)
      order by b.id desc limit :most`,
    { before, most },
  );

export interface ThreadRow {
  id: string;
  number: string;
  first_name: string | null;
  last_name: string | null;
  waiting_since: Date;
  unclear_since: Date | null;
  body: string | null;
  at: Date | null;
  near_keyword: string | null;
  meaning: string | null;
}

/** People whose reply waits, the longest wait first, with their last words. */
export const waitingThreads = (scope: Scope, most: number): Promise<ThreadRow[]> =>
  scope.rows<ThreadRow>(
    `select p.id, p.number, p.first_name, p.last_name, p.waiting_since, p.unclear_since, i.body, i.at, i.near_keyword, i.meaning
       from person p left join lateral (
         select body, at, near_keyword, meaning from inbound_text where person_id = p.id and workspace_id = :workspace order by at desc, id desc limit 1) i on true
      where p.workspace_id = :workspace and p.waiting_since is not null order by (p.unclear_since is null), p.waiting_since limit :most`,
    { most },
  );

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
            (select count(*) from consent_state c where c.program_id = g.id and c.state = 'in')::int as members,
            (select count(*) from consent_state c where c.program_id = g.id and c.state = 'out' and c.was_in)::int as left,
            (select count(*) from consent_event e where e.program_id = g.id and e.kind = 'opted-in' and e.at > :since)::int as joined_30,
            (select count(*) from consent_event e join consent_state c on c.event_id = e.id where e.program_id = g.id and e.kind = 'opted-out' and c.was_in and e.at > :since)::int as left_30
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
         from consent_event e join consent_state c on c.person_id = e.person_id and c.program_id = e.program_id
         left join inbound_text i on i.id = e.evidence ->> 'inboundTextId'
        where e.workspace_id = :workspace and e.program_id = :programId and e.kind = 'opted-in' order by e.person_id, e.seq) s
      group by source order by joined desc limit 20`,
    { programId },
  );

export interface BroadcastTextRow {
  id: string;
  person_id: string;
  number: string;
  first_name: string | null;
  last_name: string | null;
  state: string;
  failure: string | null;
  reasons: string[];
  at: Date | null;
  not_before: Date | null;
}

/** The people of a broadcast by the state of their text, a failure or a clearance reason. Empty: all. */
export const broadcastTexts = (
  scope: Scope,
  values: { broadcastId: string; states: readonly string[]; failure: string; code: string; most: number },
): Promise<BroadcastTextRow[]> =>
  scope.rows<BroadcastTextRow>(
    `select t.id, t.person_id, p.number, p.first_name, p.last_name, t.state, t.failure, coalesce(t.settled_at, t.submitted_at) as at, t.not_before,
            coalesce((select array_agg(r ->> 'code') from jsonb_array_elements(t.clearance -> 'reasons') r), '{}') as reasons
       from text t join person p on p.id = t.person_id
      where t.workspace_id = :workspace and t.broadcast_id = :broadcastId
        and (cardinality(:states::text[]) = 0 or t.state = any(:states::text[]))
        and (:failure = '' or t.failure = :failure)
        and (:code = '' or exists (select 1 from jsonb_array_elements(t.clearance -> 'reasons') r where r ->> 'code' = :code))
      order by t.id limit :most`,
    values,
  );

/** Those who wrote back to a broadcast, or left after it. */
export const broadcastRepliers = (
  scope: Scope,
  broadcastId: string,
  meanings: readonly string[],
  most: number,
): Promise<(BroadcastTextRow & { body: string })[]> =>
  scope.rows<BroadcastTextRow & { body: string }>(
    `select distinct on (i.person_id) t.id, i.person_id, p.number, p.first_name, p.last_name, t.state, t.failure, i.at, t.not_before, i.body, '{}'::text[] as reasons
       from inbound_text i join text t on t.id = i.after_text_id join person p on p.id = i.person_id
      where i.workspace_id = :workspace and t.broadcast_id = :broadcastId and i.meaning = any(:meanings) order by i.person_id, i.at limit :most`,
    { broadcastId, meanings, most },
  );

export interface SenderRow {
  id: string;
  number: string;
  kind: string;
  registration: string;
  registration_note: string | null;
  parts_per_second: number;
  daily_cap: number | null;
  programs: string[];
  sent_7: number;
  delivered_7: number;
  failed_7: number;
  delivered_before: number;
  failed_before: number;
  blocked_7: number;
}

/** Sender numbers with their last week against the eleven weeks before it. */
export const senderRows = (scope: Scope, weekAgo: Date, longAgo: Date): Promise<SenderRow[]> =>
  scope.rows<SenderRow>(
    `select s.id, s.number, s.kind, s.registration, s.registration_note, s.parts_per_second, s.daily_cap,
            coalesce((select array_agg(g.name order by g.name) from program_sender ps join program g on g.id = ps.program_id where ps.sender_id = s.id), '{}') as programs,
            coalesce(c.sent_7, 0) as sent_7, coalesce(c.delivered_7, 0) as delivered_7, coalesce(c.failed_7, 0) as failed_7,
            coalesce(c.delivered_before, 0) as delivered_before, coalesce(c.failed_before, 0) as failed_before, coalesce(c.blocked_7, 0) as blocked_7
       from sender_number s left join (
         select sender_id, count(*) filter (where submitted_at >= :weekAgo)::int as sent_7,
                count(*) filter (where submitted_at >= :weekAgo and state = 'delivered')::int as delivered_7,
                count(*) filter (where submitted_at >= :weekAgo and state = 'failed')::int as failed_7,
                count(*) filter (where submitted_at >= :weekAgo and failure = 'spam-blocked')::int as blocked_7,
                count(*) filter (where submitted_at < :weekAgo and state = 'delivered')::int as delivered_before,
                count(*) filter (where submitted_at < :weekAgo and state = 'failed')::int as failed_before
           from ${TEXTS_BY_PROGRAM} where g.workspace_id = :workspace and t.submitted_at >= :longAgo group by sender_id) c on c.sender_id = s.id
      where s.workspace_id = :workspace order by s.id`,
    { weekAgo, longAgo },
  );

export interface TeamRow {
  name: string;
  email: string;
  role: string;
}

export const teamRows = (scope: Scope): Promise<TeamRow[]> =>
  scope.rows<TeamRow>(
    `select a.name, a.email, m.role from membership m join account a on a.id = m.account_id
      where m.workspace_id = :workspace order by array_position(array['owner', 'manager', 'teammate', 'counter'], m.role), a.name`,
  );

export interface GrowthRow {
  week: Date;
  joined: number;
  left: number;
}

/** Weeks begin on Monday in the workspace's zone. */
export const growthByWeek = (scope: Scope, since: Date): Promise<GrowthRow[]> =>
  scope.rows<GrowthRow>(
    `select date_trunc('week', at, (select zone from workspace where id = :workspace)) as week, count(distinct person_id) filter (where kind = 'opted-in')::int as joined,
            count(distinct person_id) filter (where kind = 'opted-out')::int as left
       from consent_event where workspace_id = :workspace and at >= :since group by 1 order by 1`,
    { since },
  );

/** Names and places for the command box. */
export const findAnything = (
  scope: Scope,
  search: string,
  digits: string,
): Promise<{ kind: 'person' | 'broadcast' | 'program'; id: string; label: string }[]> =>
  scope.rows(
    `(select 'person' as kind, id, coalesce(nullif(trim(coalesce(first_name, '') || ' ' || coalesce(last_name, '')), ''), number) as label from person
       where workspace_id = :workspace and merged_into is null and erased_at is null
         and (search like '%' || lower(:search) || '%' or (:digits <> '' and search like '%' || :digits || '%')) order by id desc limit 6)
     union all
     (select 'broadcast', id, name from broadcast where workspace_id = :workspace and name ilike '%' || :search || '%' order by id desc limit 5)
     union all
     (select 'program', id, name from program where workspace_id = :workspace and name ilike '%' || :search || '%' order by id limit 5)`,
    { search, digits },
  );
