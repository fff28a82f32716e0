import type { Counts, Outcome } from '@/core/results/works';
import type { PosterDocument } from '@/core/poster/document';
import type { Span } from '@/core/results/spans';
import { sqlList } from '@/db/kit/sql';
import type { Scope } from '@/db/kit/scope';

/** A span as instants: from one until another, which is not in it. */
export interface Instants {
  from: Date;
  until: Date;
}

/** Of one program or one channel; null: of all. */
interface Narrowed {
  program: string | null;
  channel: string | null;
}

export interface CountedRow extends Counts {
  key: string;
}

/**
 * What came of messages that left in a span, by a column of theirs (`m`): first answers, first clicks and goings are few and are
 * joined to their messages; what arrived is `arrived`, in SQL: rows of `key`, `delivered`, `failed`.
 */
const byMessage = (column: string, arrived: string): string =>
  `with arrived as (${arrived}),
   answered as (
     select ${column} as key, count(*)::int as n from inbound_text i join message m on m.id = i.after_text_id
      where i.workspace_id = :workspace and i.answers and i.at >= :from and m.submitted_at >= :from and m.submitted_at < :until and ${column} is not null group by 1),
   lost as (
     select ${column} as key, count(*)::int as n from consent_event e join message m on m.id = e.after_text_id and m.program_id = e.program_id
      where e.workspace_id = :workspace and e.leaves and e.at >= :from and m.submitted_at >= :from and m.submitted_at < :until and ${column} is not null group by 1),
   clicked as (
     select ${column} as key, count(*)::int as n from engagement g join message m on m.id = g.text_id
      where g.workspace_id = :workspace and g.first and g.at >= :from and m.submitted_at >= :from and m.submitted_at < :until and ${column} is not null group by 1),
   used as (
     select ${column} as key, count(distinct g.text_id)::int as n from engagement g join message m on m.id = g.text_id
      where g.workspace_id = :workspace and g.kind = 'redeemed' and g.at >= :from and m.submitted_at >= :from and m.submitted_at < :until and ${column} is not null group by 1)
   select a.key, a.delivered, a.failed, coalesce(w.n, 0) as answered, coalesce(l.n, 0) as lost, coalesce(c.n, 0) as clicked, coalesce(u.n, 0) as redeemed
     from arrived a left join answered w on w.key = a.key left join lost l on l.key = a.key left join clicked c on c.key = a.key left join used u on u.key = a.key`;

/** Of the lines of sequences. The key is that of the line: sequence, full stop, line. */
export const lineWorks = (scope: Scope, { from, until }: Instants): Promise<CountedRow[]> =>
  scope.rows<CountedRow>(
    byMessage(
      'm.step_id',
      `select step_id as key, count(*) filter (where state = 'delivered')::int as delivered, count(*) filter (where state = 'failed')::int as failed
         from message where workspace_id = :workspace and program_id in (select id from program where workspace_id = :workspace)
          and submitted_at >= :from and submitted_at < :until and step_id is not null group by 1`,
    ),
    { from, until },
  );

/** Of sender numbers, whose own tally says what arrived by days of UTC. */
export const numberWorks = (scope: Scope, { from, until }: Instants): Promise<CountedRow[]> =>
  scope.rows<CountedRow>(
    byMessage(
      'm.sender_id',
      `select id as key, coalesce(sum(n) filter (where what = 'delivered'), 0)::int as delivered, coalesce(sum(n) filter (where what = 'failed'), 0)::int as failed
         from tally where workspace_id = :workspace and about = 'sender' and day >= :from::date and day < :until::date group by 1`,
    ),
    { from, until },
  );

/** Of what teammates wrote by hand, by who did. */
export const teammateWorks = (
  scope: Scope,
  { from, until }: Instants,
  { program, channel }: Narrowed,
): Promise<CountedRow[]> => {
  const theirs = `m.kind = 'answer' and (:program::text is null or m.program_id = :program) and (:channel::text is null or m.channel = :channel)`;
  return scope.rows<CountedRow>(
    byMessage(
      `case when ${theirs} then m.created_by end`,
      `select m.created_by as key, count(*) filter (where m.state = 'delivered')::int as delivered, count(*) filter (where m.state = 'failed')::int as failed
         from message m where m.workspace_id = :workspace and ${theirs} and m.created_by is not null and m.submitted_at >= :from and m.submitted_at < :until group by 1`,
    ),
    { from, until, program, channel },
  );
};

/** Of broadcasts of which there are several wordings. The key is that of the wording: broadcast, full stop, which, from 0. */
export const wordingWorks = (scope: Scope, { from, until }: Instants): Promise<CountedRow[]> =>
  scope.rows<CountedRow>(
    byMessage(
      `m.send_id || '.' || m.wording`,
      `select m.send_id || '.' || m.wording as key, count(*) filter (where m.state = 'delivered')::int as delivered, count(*) filter (where m.state = 'failed')::int as failed
         from message m where m.workspace_id = :workspace and m.wording is not null and m.submitted_at >= :from and m.submitted_at < :until
          and m.send_id in (select id from broadcast where workspace_id = :workspace and comparison is not null and begun_at < :until) group by 1`,
    ),
    { from, until },
  );

/** How many were called back upon, of broadcasts of voicemails. */
export const callsOfDrops = (
  scope: Scope,
  ids: readonly string[],
): Promise<{ id: string; called: number }[]> =>
  scope.rows(
    `select c.after_send_id as id, count(distinct c.after_message_id)::int as called from call c join message m on m.id = c.after_message_id and m.state = 'delivered'
      where c.workspace_id = :workspace and c.after_send_id = any(:ids) group by 1`,
    { ids },
  );

/** How many used a voucher of some sends. */
export const usedOfSends = (scope: Scope, ids: readonly string[]): Promise<{ id: string; used: number }[]> =>
  scope.rows(
    `select send_id as id, count(distinct text_id)::int as used from engagement
      where workspace_id = :workspace and send_id = any(:ids) and kind = 'redeemed' group by 1`,
    { ids },
  );

const AT_HOME = `m.submitted_at at time zone (select zone from workspace where id = :workspace)`;

/** First clicks and vouchers that were used, by the hour of the week at which their message left, over the whole months a span touches. */
export const hourEngagements = (
  scope: Scope,
  { from, until }: Span,
  { program, channel }: Narrowed,
): Promise<{ hour: number; what: 'clicked' | 'redeemed'; n: number }[]> =>
  scope.rows(
    `select ((extract(isodow from ${AT_HOME}) - 1) * 24 + extract(hour from ${AT_HOME}))::int as hour, g.kind as what, count(distinct g.text_id)::int as n
       from engagement g join message m on m.id = g.text_id
      where g.workspace_id = :workspace and (g.first or g.kind = 'redeemed') and ${AT_HOME} >= date_trunc('month', :from::date) and ${AT_HOME} < :until::date
        and (:program::text is null or m.program_id = :program) and (:channel::text is null or m.channel = :channel) group by 1, 2`,
    { from, until, program, channel },
  );

/** Texts that were nearly a keyword, by keyword. */
export const nearMisses = (scope: Scope, { from, until }: Instants): Promise<{ key: string; n: number }[]> =>
  scope.rows(
    `select near_keyword as key, count(*)::int as n from inbound_text
      where workspace_id = :workspace and near_keyword is not null and at >= :from and at < :until group by 1`,
    { from, until },
  );

/** How people came, or who they are now: keys in SQL, of an entry of the ledger (`e`). */
const WAYS = {
  keyword: `select e.evidence ->> 'keyword'`,
  form: `select e.evidence ->> 'formId'`,
  poster: `select p.id from poster p left join keyword k on k.id = p.keyword_id
    where p.workspace_id = e.workspace_id and (k.word = e.evidence ->> 'keyword' or p.form_id = e.evidence ->> 'formId')`,
  source: `select a.source_id from arrival a where a.id = e.evidence ->> 'arrivalId'`,
  way: `select e.method`,
  tag: `select l.label_id from person_label l join label n on n.id = l.label_id and n.kind = 'tag' where l.workspace_id = e.workspace_id and l.person_id = e.person_id`,
  region: `select p.place_region from person p where p.workspace_id = e.workspace_id and p.id = e.person_id`,
} as const;
export type WayIn = keyof typeof WAYS;
export const WAYS_IN = Object.keys(WAYS) as WayIn[];

/** Of people who came in a span, each counted once for each key: how many are still in, and how many wrote since. */
export const peopleWorks = (
  scope: Scope,
  by: WayIn,
  { from, until }: Instants,
  { program, channel }: Narrowed,
): Promise<CountedRow[]> =>
  scope.rows<CountedRow>(
    `with came as (
       select distinct on (key, person_id) key, person_id, program_id, channel, at from (
         select k.key, e.person_id, e.program_id, e.channel, e.at from consent_event e cross join lateral (${WAYS[by]}) as k (key)
          where e.workspace_id = :workspace and e.comes and e.at >= :from and e.at < :until
            and (:program::text is null or e.program_id = :program) and (:channel::text is null or e.channel = :channel)) every
        where key is not null order by key, person_id, at)
     select key, count(*)::int as joined,
            count(*) filter (where exists (select 1 from consent_state c where c.person_id = j.person_id and c.program_id = j.program_id
              and c.channel = j.channel and c.current and c.state = 'in'))::int as stayed,
            count(*) filter (where exists (select 1 from inbound_text i where i.person_id = j.person_id and i.at > j.at
              and i.meaning in ('reply', 'unclear')))::int as wrote
       from came j group by 1`,
    { from, until, program, channel },
  );

export interface PeriodRow {
  key: string;
  day: string;
  n: number;
  of: number | null;
}

/** How many came by each of some keys, by the days of the workspace. */
export const peopleOverTime = (
  scope: Scope,
  by: WayIn,
  keys: readonly string[],
  { from, until }: Instants,
): Promise<PeriodRow[]> =>
  scope.rows<PeriodRow>(
    `select key, (at at time zone (select zone from workspace where id = :workspace))::date::text as day, count(*)::int as n, null as of from (
       select k.key, e.at from consent_event e cross join lateral (${WAYS[by]}) as k (key) where e.workspace_id = :workspace and e.comes and e.at >= :from and e.at < :until) came
      where key = any(:keys) group by 1, 2`,
    { keys, from, until },
  );

/** By which rows what came of a send is seen, and when: `x` is the row, its send in `id`. */
const CAME_OF_SEND: Partial<Record<Outcome, string>> = {
  answered: `select after_send_id as id, at from inbound_text where workspace_id = :workspace and answers and after_send_id = any(:keys)`,
  clicked: `select send_id as id, at from engagement where workspace_id = :workspace and first and send_id = any(:keys)`,
  redeemed: `select send_id as id, at from engagement where workspace_id = :workspace and kind = 'redeemed' and send_id = any(:keys)`,
  lost: `select m.send_id as id, e.at from consent_event e join message m on m.id = e.after_text_id and m.program_id = e.program_id
          where e.workspace_id = :workspace and e.leaves and m.send_id = any(:keys)`,
  called: `select after_send_id as id, min(rang_at) as at from call where workspace_id = :workspace and after_send_id = any(:keys) group by after_send_id, after_message_id`,
};

/** What came of some broadcasts, by the days on which it came; null: it is not seen by days. */
export const sendsOverTime = (
  scope: Scope,
  keys: readonly string[],
  outcome: Outcome,
  { from, until }: Instants,
): Promise<PeriodRow[]> | null => {
  const came = CAME_OF_SEND[outcome];
  return came === undefined
    ? null
    : scope.rows<PeriodRow>(
        `select id as key, (at at time zone (select zone from workspace where id = :workspace))::date::text as day, count(*)::int as n, null as of
           from (${came}) x where at >= :from and at < :until group by 1, 2`,
        { keys, from, until },
      );
};

/** What is kept by days of it. */
const ABOUT = { program: 'day', number: 'sender' } as const;

/** What came of the messages of some programs, or sender numbers, by days. */
export const keptOverTime = (
  scope: Scope,
  compare: keyof typeof ABOUT,
  keys: readonly string[],
  what: { count: string; of: readonly string[] },
  { from, until }: Span,
): Promise<PeriodRow[]> =>
  scope.rows<PeriodRow>(
    `select id as key, day::text as day, coalesce(sum(n) filter (where what = :count), 0)::int as n,
            coalesce(sum(n) filter (where what in (${sqlList(what.of)})), 0)::int as of
       from tally where workspace_id = :workspace and about = '${ABOUT[compare]}' and id = any(:keys) and day >= :from::date and day < :until::date group by 1, 2`,
    { keys, count: what.count, from, until },
  );

/** Names of teammates, also of those who are none any more. */
export const accountNames = (
  scope: Scope,
  keys: readonly string[],
): Promise<{ id: string; name: string }[]> =>
  scope.rows(`select id, name from account where id = any(:keys) and :workspace is not null`, { keys });

/** What stands on posters, and their sheets. */
export const posterDocuments = (
  scope: Scope,
  keys: readonly string[],
): Promise<{ id: string; document: PosterDocument }[]> =>
  scope.rows(`select id, document from poster where workspace_id = :workspace and id = any(:keys)`, { keys });

/** Names of what keys stand for; who was archived or taken away keeps a name. */
export const namesOf = (
  scope: Scope,
  what: 'program' | 'form' | 'source' | 'label' | 'sender_number' | 'template' | 'sequence',
  keys: readonly string[],
): Promise<{ id: string; name: string }[]> =>
  scope.rows(
    `select id, ${what === 'sender_number' ? 'number' : 'name'} as name from ${what} where workspace_id = :workspace and id = any(:keys)`,
    { keys },
  );
