import { WHY, WAITS_WHY, type Box, type WaitsWhy } from '@/core/inbox/waiting';
import type { Channel } from '@/core/message/channel';
import { CALLED } from '@/db/people/addresses';
import type { Scope, SqlValue } from '@/db/kit/scope';
import { sqlList } from '@/db/kit/sql';

export interface InboxQuestion {
  box: Box;
  /** Who looks. */
  accountId: string;
  program?: string | null;
  channel?: string | null;
  sender?: string | null;
  source?: string | null;
  why?: string | null;
  /** Without whom Today shows together elsewhere: who called in vain, who nearly typed a keyword. */
  apart?: boolean;
  at: Date;
  /** Within which a plain reply should be answered, in milliseconds. */
  target: number;
  most: number;
  /** How many of the first are left out. */
  skip: number;
}

export interface InboxRow {
  id: string;
  first_name: string | null;
  last_name: string | null;
  address: string | null;
  why: WaitsWhy;
  since: Date;
  /** Until when they should have been answered. */
  by_at: Date;
  account_id: string | null;
  account: string | null;
  channel: Channel | null;
  /** What they wrote last; null: nothing, or it is not kept any more. */
  words: string | null;
  near_keyword: string | null;
  calls: number;
  later_until: Date | null;
  done_at: Date | null;
}

/** A person (`p`) who is still one of their own. */
const HERE = `p.merged_into is null and p.erased_at is null`;

/**
 * Everybody who waits for a human: who wrote, who called in vain, who comes back from being put off. `last`: the newest
 * sign of them, which ends a putting off that was before it; who comes back waits since then.
 */
const SIGNS = `
  select p.id as person_id, p.owner_id, p.waiting_since as since, p.unclear_since is not null as unclear, true as wrote, 0 as calls, null as back, greatest(p.waiting_since, p.last_wrote_at) as last
    from person p where p.workspace_id = :workspace and p.waiting_since is not null and ${HERE}
  union all
  select p.id, p.owner_id, min(c.rang_at), false, false, count(*)::int, null, max(c.rang_at) from call c join person p on p.workspace_id = c.workspace_id and p.id = c.person_id and ${HERE}
   where c.workspace_id = :workspace and c.direction = 'in' and c.answered_at is null and c.settled_at is null and c.ended_at is not null
     and c.rang_at > :at::timestamptz - interval '30 days' group by 1, 2
  union all
  select p.id, p.owner_id, t.later_until, false, false, 0, t.later_why, '-infinity' from thread t join person p on p.workspace_id = t.workspace_id and p.id = t.person_id and ${HERE}
   where t.workspace_id = :workspace and t.later_until <= :at and (t.later_why = 'later' or coalesce(p.last_wrote_at, '-infinity') <= t.later_since)`;

const SHARE = `case y.why ${WAITS_WHY.map((why) => `when '${why}' then ${WHY[why].share}`).join(' ')} end`;

const WAITING = `
  select y.*, y.since + ${SHARE} * :target * interval '1 millisecond' as by_at from (
    select s.person_id, case when t.later_until <= :at and s.last <= t.later_since then t.later_until else s.since end as since, s.calls, s.last, t.channel, t.program_id, t.sender_id, t.later_until, t.done_at, coalesce(t.account_id, s.owner_id) as account_id,
           case when s.unclear then 'opt-out' when s.calls > 0 then 'missed-call' when s.wrote then coalesce(t.why, 'reply') else s.back end as why,
           t.later_until > :at and not s.unclear and s.last <= t.later_since as is_later
      from (select person_id, owner_id, min(since) as since, bool_or(unclear) as unclear, bool_or(wrote) as wrote, sum(calls)::int as calls, max(back) as back, max(last) as last
              from (${SIGNS}) signs group by 1, 2) s
      left join thread t on t.workspace_id = :workspace and t.person_id = s.person_id) y`;

/** Put off until a time that has not come, and nothing came from them since. */
const PUT_OFF = `
  select t.person_id, t.later_since as since, 0 as calls, t.channel, t.program_id, t.sender_id, t.later_until, t.done_at, coalesce(t.account_id, p.owner_id) as account_id,
         t.later_why as why, t.later_until as by_at, true as is_later
    from thread t join person p on p.workspace_id = :workspace and p.id = t.person_id and p.merged_into is null and p.erased_at is null
   where t.workspace_id = :workspace and t.later_until > :at and coalesce(p.last_wrote_at, '-infinity') <= t.later_since
     and not exists (select 1 from call c where c.workspace_id = :workspace and c.person_id = p.id and c.rang_at > t.later_since and c.direction = 'in' and c.answered_at is null and c.settled_at is null)`;

/** Through with in the last days. */
const DONE = `
  select t.person_id, t.done_at as since, 0 as calls, t.channel, t.program_id, t.sender_id, t.later_until, t.done_at, coalesce(t.account_id, p.owner_id) as account_id,
         'reply' as why, t.done_at as by_at, false as is_later
    from thread t join person p on p.workspace_id = :workspace and p.id = t.person_id and p.merged_into is null and p.erased_at is null and p.waiting_since is null
   where t.workspace_id = :workspace and t.done_at > :at::timestamptz - interval '7 days'`;

/** What may be an opt-out before everything else, however long somebody waits; then who should be answered first. */
const FIRST = (of: string): string => `(${of}.why <> 'opt-out'), ${of}.by_at`;

const BOXES: Record<Box, { from: string; where: string; order(of: string): string }> = {
  mine: { from: WAITING, where: 'is_later is not true and account_id = :accountId', order: FIRST },
  nobody: { from: WAITING, where: 'is_later is not true and account_id is null', order: FIRST },
  team: { from: WAITING, where: 'is_later is not true', order: FIRST },
  later: { from: PUT_OFF, where: 'true', order: (of) => `${of}.by_at` },
  done: { from: DONE, where: 'true', order: (of) => `${of}.by_at desc` },
};

/** Who is shown one by one. */
const APART = `(not :apart or why not in (${sqlList(['missed-call', 'near-miss'] satisfies WaitsWhy[])}))`;

const FILTERS = `(:program::text is null or program_id = :program) and (:channel::text is null or channel = :channel) and (:sender::text is null or sender_id = :sender)
  and (:why::text is null or why = :why)
  and (:source::text is null or exists (select 1 from inquiry q where q.workspace_id = :workspace and q.person_id = x.person_id and q.source_id = :source))`;

const asked = (question: InboxQuestion): Record<string, SqlValue> => ({
  ...{ accountId: question.accountId, at: question.at, target: question.target },
  ...{
    program: question.program ?? null,
    channel: question.channel ?? null,
    sender: question.sender ?? null,
  },
  ...{ source: question.source ?? null, why: question.why ?? null, apart: question.apart ?? false },
});

/** What is shown of those of a page (`o`), in its order. */
const SHOWN = (order: string): string => `
  select o.person_id as id, p.first_name, p.last_name, ${CALLED} as address, o.why, o.since, o.by_at, o.account_id, a.name as account, o.calls, o.later_until, o.done_at,
         coalesce(o.channel, i.channel) as channel, i.near_keyword,
         case when q.at > coalesce(i.at, '-infinity') then q.kind || ': ' || q.words else coalesce(nullif(i.body, ''), nullif(i.subject, ''), i.body) end as words,
         row_number() over (order by ${order}, o.person_id) as nth
    from o join person p on p.workspace_id = :workspace and p.id = o.person_id left join account a on a.id = o.account_id
    left join lateral (select kind, words, at from inquiry where workspace_id = :workspace and person_id = o.person_id order by at desc limit 1) q on true
    left join lateral (select body, subject, at, near_keyword, channel from inbound_text where workspace_id = :workspace and person_id = o.person_id and meaning <> 'automatic'
                        order by at desc, id desc limit 1) i on true`;

/** One page of a box: who should be answered first stands first. */
export const inboxPage = (scope: Scope, question: InboxQuestion): Promise<InboxRow[]> => {
  const { from, where, order } = BOXES[question.box];
  return scope.rows<InboxRow>(
    `with o as (select * from (${from}) x where ${where} and ${FILTERS} and ${APART} order by ${order('x')}, person_id limit :most offset :skip)
     select * from (${SHOWN(order('o'))}) s order by nth`,
    { ...asked(question), most: question.most, skip: question.skip },
  );
};

/** The same with how many each box holds: whoever waits is looked up once for both. */
export async function inboxBox(
  scope: Scope,
  question: InboxQuestion,
): Promise<{ rows: InboxRow[]; counts: BoxCounts }> {
  const { from, where, order } = BOXES[question.box];
  const shown = from === WAITING ? `w x where ${where}` : `(${from}) x where ${where} and ${FILTERS}`;
  const found = await scope.rows<InboxRow & { counts: BoxCounts }>(
    `with w as materialized (select * from (${WAITING}) x where is_later is not true and ${FILTERS}),
     o as (select * from ${shown} and ${APART} order by ${order('x')}, person_id limit :most offset :skip)
     select c.counts, s.* from (select to_jsonb(n) as counts from (${COUNTED}) n) c left join (${SHOWN(order('o'))}) s on true order by nth`,
    { ...asked(question), most: question.most, skip: question.skip },
  );
  // Where nobody is in the box there is one row, of counts alone.
  return { rows: found.filter(({ id }) => id !== null), counts: found[0]!.counts };
}

/** How many each box holds, of those that are counted. */
export interface BoxCounts {
  mine: number;
  nobody: number;
  team: number;
  later: number;
  /** Of all who wait: past their time. */
  over: number;
}

/** Of those who wait (`w`), and of those who are put off. */
const COUNTED = `
  select count(*) filter (where account_id = :accountId)::int as mine, count(*) filter (where account_id is null)::int as nobody, count(*)::int as team,
         count(*) filter (where by_at <= :at)::int as over, (select count(*)::int from (${PUT_OFF}) x where ${FILTERS}) as later
    from w`;

/** Whether somebody waits, why and since when; null: they do not. */
export async function waitingOf(
  scope: Scope,
  personId: string,
  { at, target }: { at: Date; target: number },
): Promise<{ why: WaitsWhy; since: Date; by_at: Date } | null> {
  const [row] = await scope.rows<{ why: WaitsWhy; since: Date; by_at: Date }>(
    `select why, since, by_at from (${WAITING}) x where person_id = :personId`,
    { personId, at, target },
  );
  return row ?? null;
}

export interface FoundRow {
  id: string;
  first_name: string | null;
  last_name: string | null;
  address: string | null;
  words: string;
  at: Date;
  /** Who said it. */
  by: 'them' | 'us' | 'note';
}

/** So many hits are read through an index of words before they are put in order of time. */
const READ = 5_000;
/** So many of the newest are looked through first, and at most so many. */
const NEWEST = 2_000;
const MOST_NEWEST = 20_000;
/** So many hits among the newest tell how many more to look through. */
const TELLING = 5;

/**
 * Words that were typed: by people, in answers, in notes; the newest first, each person once. A word that stands nearly
 * everywhere is found among the newest, where an index would give half of everything; a rare one by the index.
 */
export async function searchWords(scope: Scope, words: string, most: number): Promise<FoundRow[]> {
  const first = await searchIn(scope, among(NEWEST), words, most);
  if (first.length >= most) return first;
  const window = Math.ceil((NEWEST * most * 1.5) / Math.max(first.length, 1));
  return first.length >= TELLING && window <= MOST_NEWEST
    ? searchIn(scope, among(window), words, most)
    : searchIn(scope, BY_INDEX, words, most);
}

const QUERY = `websearch_to_tsquery('simple', :words)`;
const SAYS = `to_tsvector('simple', body) @@ ${QUERY}`;
const SAID = [
  {
    from: `select person_id, body, at, 'them' as by, id from inbound_text where workspace_id = :workspace`,
    at: 'at',
  },
  {
    from: `select person_id, body, created_at as at, 'us' as by, id from message where workspace_id = :workspace and kind = 'answer'`,
    at: 'created_at',
  },
  {
    from: `select person_id, body, at, 'note' as by, id from thread_note where workspace_id = :workspace`,
    at: 'at',
  },
];

/** The newest of what was said, looked through one by one. */
const among = (newest: number): string =>
  SAID.map(
    ({ from, at }) => `(select * from (${from} order by ${at} desc limit ${newest}) n where ${SAYS})`,
  ).join(' union all ');

const BY_INDEX = SAID.map(({ from }) => `(${from} and ${SAYS} limit ${READ})`).join(' union all ');

const searchIn = (scope: Scope, said: string, words: string, most: number): Promise<FoundRow[]> =>
  scope.rows<FoundRow>(
    `with found as (${said}),
     one as (select distinct on (person_id) * from found order by person_id, at desc)
     select p.id, p.first_name, p.last_name, ${CALLED} as address, o.body as words, o.at, o.by from one o join person p on p.workspace_id = :workspace and p.id = o.person_id
        and ${HERE} order by o.at desc limit :most`,
    { words, most },
  );

/** How soon people were answered, by teammate. Milliseconds. */
export interface SpeedRow {
  account_id: string | null;
  account: string | null;
  answered: number;
  closed: number;
  /** Of those answered; null: nobody was. */
  median: number | null;
  p95: number | null;
  in_time: number;
}

export const answerSpeed = (scope: Scope, since: Date): Promise<SpeedRow[]> =>
  scope.rows<SpeedRow>(
    `select t.account_id, a.name as account, count(*) filter (where t.how = 'answered')::int as answered, count(*) filter (where t.how = 'closed')::int as closed,
            (percentile_cont(0.5) within group (order by extract(epoch from t.ended_at - t.since) * 1000) filter (where t.how = 'answered'))::float8 as median,
            (percentile_cont(0.95) within group (order by extract(epoch from t.ended_at - t.since) * 1000) filter (where t.how = 'answered'))::float8 as p95,
            count(*) filter (where t.how = 'answered' and t.ended_at <= t.by_at)::int as in_time
       from thread_turn t left join account a on a.id = t.account_id where t.workspace_id = :workspace and t.ended_at > :since group by 1, 2 order by 3 desc, 2`,
    { since },
  );

/** The same by the hour of the day at which they began to wait, in the workspace’s zone. */
export const speedByHour = (
  scope: Scope,
  since: Date,
): Promise<{ hour: number; answered: number; median: number }[]> =>
  scope.rows(
    `select extract(hour from t.since at time zone w.zone)::int as hour, count(*)::int as answered,
            (percentile_cont(0.5) within group (order by extract(epoch from t.ended_at - t.since) * 1000))::float8 as median
       from thread_turn t join workspace w on w.id = t.workspace_id where t.workspace_id = :workspace and t.ended_at > :since and t.how = 'answered' group by 1 order by 1`,
    { since },
  );
