import { dueRowsOf } from '@/db/kit/due';
import { OF_ERASED } from '@/db/kit/erasure';
import type { Reading, Scope } from '@/db/kit/scope';
import { toJson } from '@/db/kit/json';

/** Told once a telephone system told something, so that it is worked on at once. */
export const CALLED = 'wren_called';

/** Keeps what a telephone system told; what it told before is kept once. */
export const insertCallEvents = (
  scope: Scope,
  {
    switchboardId,
    at,
    told,
  }: { switchboardId: string; at: Date; told: readonly { id: string; key: string; content: unknown }[] },
): Promise<object[]> =>
  scope.rows(
    `with kept as (
       insert into call_event (id, workspace_id, switchboard_id, key, content, at, due_at)
       select u.id, :workspace, :switchboardId, u.key, u.content, :at, :at from unnest(:ids::text[], :keys::text[], :contents::jsonb[]) as u (id, key, content)
       on conflict (switchboard_id, key) do nothing returning 1)
     select pg_notify('${CALLED}', '') from kept limit 1`,
    {
      ...{ switchboardId, at, ids: told.map(({ id }) => id), keys: told.map(({ key }) => key) },
      contents: told.map(({ content }) => toJson(content)),
    },
  );

/** What follows from a call waits. */
export const tellCalled = (scope: Scope): Promise<object[]> =>
  scope.rows(`select pg_notify('${CALLED}', '') from workspace where id = :workspace`);

const MOST_EACH = 50;

export const eventsDue = (reading: Reading, untroubled: string, at: Date) =>
  dueRowsOf(reading, 'call_event e', { untroubled, at, each: MOST_EACH });

export const callTextsDue = (reading: Reading, untroubled: string, at: Date) =>
  dueRowsOf(reading, 'call_text t', { untroubled, at, each: MOST_EACH });

/** Events of calls that nothing was known of when they came: of a call that is known now they can be read. */
export const readAgain = (scope: Scope, switchboardId: string, at: Date): Promise<number> =>
  scope.run(
    `update call_event set due_at = :at where workspace_id = :workspace and switchboard_id = :switchboardId and due_at > :at`,
    { switchboardId, at },
  );

/**
 * The voicemail somebody calls back upon: the last that went to them within a week. It counts from when it was handed over:
 * people call sooner than it is told that it was left. One that turns out not to have been left counts for nothing.
 */
export async function voicemailBefore(
  scope: Scope,
  address: string,
  { since, until }: { since: Date; until: Date },
): Promise<{ id: string; send_id: string | null } | null> {
  const [row] = await scope.rows<{ id: string; send_id: string | null }>(
    `select id, send_id from message where workspace_id = :workspace and channel = 'voicemail' and address = :address
        and state in ('submitted', 'unconfirmed', 'delivered') and submitted_at >= :since and submitted_at <= :until order by submitted_at desc limit 1`,
    { address, since, until },
  );
  return row ?? null;
}

/** Calls nobody picked up are seen to once they were spoken to, or called. Gives how many. */
export const settleMissed = (scope: Scope, personId: string, before: Date, at: Date): Promise<number> =>
  scope.run(
    `update call set settled_at = :at where workspace_id = :workspace and person_id = :personId and direction = 'in' and answered_at is null
        and settled_at is null and rang_at <= :before`,
    { personId, before, at },
  );

/** Whether the same outcome was followed by something for the same person since an instant. */
export async function followedSince(
  scope: Scope,
  {
    personId,
    outcomeId,
    except,
    since,
  }: { personId: string; outcomeId: string; except: string; since: Date },
): Promise<boolean> {
  const rows = await scope.rows(
    `select 1 from call_text t join call c on c.id = t.call_id where t.workspace_id = :workspace and c.person_id = :personId
        and t.outcome_id = :outcomeId and t.id <> :except and t.because is null and t.due_at is null and t.at > :since limit 1`,
    { personId, outcomeId, except, since },
  );
  return rows.length > 0;
}

export interface CallRow {
  id: string;
  direction: 'in' | 'out';
  address: string;
  number: string | null;
  person_id: string | null;
  teammate: string;
  rang_at: Date;
  answered_at: Date | null;
  ended_at: Date | null;
  outcome: string | null;
  note: string;
  after_message_id: string | null;
  texts: { outcome: string; message: string | null; because: string | null; waits: boolean }[];
}

/** Calls with somebody, the latest first. */
export const callsWith = (scope: Scope, personId: string, most: number): Promise<CallRow[]> =>
  scope.rows<CallRow>(
    `select c.id, c.direction, c.address, s.number, c.person_id, coalesce(a.name, c.teammate) as teammate, c.rang_at, c.answered_at, c.ended_at,
            o.name as outcome, c.note, c.after_message_id,
            coalesce((select jsonb_agg(jsonb_build_object('outcome', x.name, 'message', t.message_id, 'because', t.because, 'waits', t.due_at is not null) order by t.at)
               from call_text t join call_outcome x on x.id = t.outcome_id where t.call_id = c.id), '[]') as texts
       from call c left join sender_number s on s.id = c.sender_id left join account a on a.id = c.account_id left join call_outcome o on o.id = c.outcome_id
      where c.workspace_id = :workspace and c.person_id = :personId order by c.rang_at desc limit :most`,
    { personId, most },
  );

export interface ToCallRow {
  person_id: string;
  name: string | null;
  address: string;
  /** The number of ours they know. */
  number: string | null;
  sender_id: string | null;
  why: 'called-back' | 'missed' | 'answered' | 'task';
  since: Date;
  calls: number;
  /** What they said, or what is to be done. */
  words: string | null;
  task_id: string | null;
}

/**
 * Whom to call next: who called and reached nobody, upon a voicemail first, who answered a voicemail by text, and whose task
 * is due. One row a person, the longest wait first within each kind. Who left is not called.
 */
export const toCall = (
  scope: Scope,
  { accountId, at, since, most }: { accountId: string; at: Date; since: Date; most: number },
): Promise<ToCallRow[]> =>
  scope.rows<ToCallRow>(
    `with missed as (
       select c.person_id, min(c.rang_at) as since, count(*)::int as calls, bool_or(c.after_message_id is not null) as after,
              (array_agg(c.sender_id order by c.rang_at desc))[1] as sender_id, (array_agg(c.address order by c.rang_at desc))[1] as address
         from call c where c.workspace_id = :workspace and c.direction = 'in' and c.answered_at is null and c.ended_at is not null and c.settled_at is null
          and c.rang_at > :since and c.person_id is not null group by 1),
     wrote as (
       select p.id as person_id, p.waiting_since as since, i.body, i.sender_id, p.number as address from person p
         join lateral (select body, sender_id, after_text_id, from_number from inbound_text i where i.workspace_id = :workspace and i.person_id = p.id order by i.at desc limit 1) i on true
        where p.workspace_id = :workspace and p.waiting_since is not null and p.number is not null
          and exists (select 1 from message m where m.workspace_id = :workspace and m.channel = 'voicemail' and m.address = p.number and m.state = 'delivered'
                        and m.settled_at between p.waiting_since - interval '7 days' and p.waiting_since)),
     due as (
       select distinct on (t.person_id) t.person_id, t.due_at as since, t.title, t.id from task t
        where t.workspace_id = :workspace and t.state = 'open' and t.person_id is not null and t.due_at <= :at and (t.account_id is null or t.account_id = :accountId)
        order by t.person_id, t.due_at),
     all_of as (
       select person_id, 1 as place, case when after then 'called-back' else 'missed' end as why, since, calls, null as words, sender_id, address, null as task_id from missed
       union all select person_id, 2, 'answered', since, 0, body, sender_id, address, null from wrote
       union all select d.person_id, 3, 'task', d.since, 0, d.title, null, null, d.id from due d),
     one as (select distinct on (person_id) * from all_of order by person_id, place)
     select o.person_id, nullif(trim(concat_ws(' ', p.first_name, p.last_name)), '') as name, coalesce(o.address, p.number) as address, s.number, s.id as sender_id,
            o.why, o.since, o.calls, o.words, o.task_id
       from one o join person p on p.id = o.person_id and p.merged_into is null and p.erased_at is null
       left join sender_number s on s.id = coalesce(o.sender_id, (select a.sender_id from sender_assignment a where a.person_id = o.person_id order by a.sender_id limit 1))
      where coalesce(o.address, p.number) is not null and (p.stopped_at is null or o.place = 1)
      order by case o.why when 'called-back' then 0 else o.place end, o.since limit :most`,
    { accountId, at, since, most },
  );

/** Who called back upon a drop, and what it came to. */
export interface DropCallsRow {
  /** People who called, who were spoken to, and who wrote. */
  called: number;
  reached: number;
  wrote: number;
  left_out: number;
  /** Milliseconds after the voicemail was left at which half of them had called. */
  median: number | null;
}

export async function callsUpon(scope: Scope, sendId: string): Promise<DropCallsRow> {
  const [row] = await scope.rows<DropCallsRow>(
    `with called as (
       select c.after_message_id as id, min(c.rang_at) as at, bool_or(c.answered_at is not null) or exists (
                select 1 from call o where o.workspace_id = :workspace and o.person_id = min(c.person_id) and o.direction = 'out' and o.answered_at is not null and o.rang_at > min(c.rang_at)) as reached
         from call c join message m on m.id = c.after_message_id and m.state = 'delivered' where c.workspace_id = :workspace and c.after_send_id = :sendId group by 1),
     wrote as (
       select m.id, bool_or(i.meaning = 'opt-out') as left_out from message m join inbound_text i on i.workspace_id = :workspace and i.person_id = m.person_id
          and i.at between m.settled_at and m.settled_at + interval '7 days'
        where m.workspace_id = :workspace and m.send_id = :sendId and m.channel = 'voicemail' and m.state = 'delivered' group by 1)
     select (select count(*)::int from called) as called, (select count(*)::int from called where reached) as reached,
            (select count(*)::int from wrote where not left_out) as wrote, (select count(*)::int from wrote where left_out) as left_out,
            (select (percentile_cont(0.5) within group (order by greatest(0, extract(epoch from c.at - m.settled_at))) * 1000)::float8 from called c join message m on m.id = c.id) as median`,
    { sendId },
  );
  return row!;
}

/** Calls of the one that goes are the other's. */
export const moveCalls = (scope: Scope, keptId: string, goneId: string): Promise<{ id: string }[]> =>
  scope.rows(
    `update call set person_id = :keptId where workspace_id = :workspace and person_id = :goneId returning id`,
    { keptId, goneId },
  );

export const giveBackCalls = (scope: Scope, goneId: string, ids: readonly string[]): Promise<number> =>
  scope.run(
    `update call set person_id = :goneId where workspace_id = :workspace and id = any(:ids::text[])`,
    {
      goneId,
      ids,
    },
  );

/** What was written about somebody's calls, and what a telephone system told of their number, however it writes one. */
export const CALL_ERASURES = [
  `delete from call_event e where e.workspace_id = :workspace and exists (
     select 1 from unnest(:addresses::text[]) a (value) where a.value ~ '^\\+\\d{8,15}$' 
       and regexp_replace(e.content::text, '\\D', '', 'g') like '%' || right(a.value, 10) || '%')`,
  `delete from call where ${OF_ERASED}`,
];
