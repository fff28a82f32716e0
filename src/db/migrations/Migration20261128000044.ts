import { Migration } from '@mikro-orm/migrations';

/**
 * Sums by day and by hour of the week, in the workspace's zone, beside those of sends and numbers: what results are read
 * from. Differences are added by whoever changes what is counted, in the same transaction. What an erasure takes away stays
 * counted (`gone`): people go, counts stay. `sums_of` counts a span anew from the rows themselves, by the same formulas.
 */
export class Migration20261128000044 extends Migration {
  override up(): void {
    for (const sql of [...TABLE, ...FIRSTS, ...MESSAGES, ...INBOUND, ...CONSENT, ...ENGAGED, ANEW, FILL])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of BACK) this.addSql(sql);
  }
}

const TABLE = [
  `alter table message_tally rename to tally`,
  `alter index message_tally_apart rename to tally_apart`,
  `alter index message_tally_of rename to tally_of`,
  `alter table tally drop constraint message_tally_about_check`,
  `alter table tally add check (about in ('send', 'sender', 'day', 'hour', 'stay'))`,
  `alter table tally add column channel text not null default '', add column nth smallint, add column gone boolean not null default false`,
  `create index tally_days on tally (workspace_id, about, day) where about in ('day', 'hour', 'stay')`,
  `create table sums_due (
     workspace_id text primary key references workspace on delete cascade, month date not null, until date not null, since bigint not null)`,
];

/** An entry that a merge, or taking one back, carried from one record to another: nobody came or went. */
const carried = (of: string): string =>
  `(${of}.evidence -> 'carried' is not null or ${of}.evidence ->> 'source' in ('merged', 'merge undone') and ${of}.evidence -> 'wording' is null)`;

/** How long a month of somebody's stay is. */
const MONTH = `interval '30 days'`;

/**
 * Columns that say what counts: which reply begins a conversation (none in the week before), is the first to its message, and
 * the first in a month of its writer's stay; which entry of the ledger is somebody coming or going, and since when they were in;
 * which click is the first on its message.
 */
const FIRSTS = [
  `alter table inbound_text add column begins boolean not null default false, add column answers boolean not null default false,
     add column in_since timestamptz, add column month smallint`,
  `create function tell_firsts() returns trigger language plpgsql as $$
     begin
       new.begins := false; new.answers := false; new.in_since := null; new.month := null;
       if new.meaning not in ('reply', 'unclear') then return new; end if;
       new.begins := not exists (
         select 1 from inbound_text p where p.person_id = new.person_id and p.id <> new.id and p.meaning in ('reply', 'unclear')
            and p.at <= new.at and p.at > new.at - interval '7 days');
       new.answers := new.after_text_id is not null and not exists (
         select 1 from inbound_text p where p.after_text_id = new.after_text_id and p.id <> new.id and p.answers);
       new.in_since := (select min(e.at) from consent_event e where e.person_id = new.person_id and e.kind = 'opted-in' and e.at <= new.at);
       new.month := least(999, floor(extract(epoch from new.at - new.in_since) / extract(epoch from ${MONTH})));
       if exists (select 1 from inbound_text p where p.person_id = new.person_id and p.id <> new.id and p.month = new.month and p.in_since = new.in_since) then
         new.month := null;
       end if;
       return new;
     end $$`,
  `update inbound_text i set begins = f.begins, answers = f.answers, in_since = f.in_since, month = case when f.nth = 1 then f.month end from (
     select *, row_number() over (partition by person_id, in_since, month order by at, id) as nth from (
       select id, person_id, at, coalesce(at - lag(at) over (partition by person_id order by at, id) >= interval '7 days', true) as begins,
              after_text_id is not null and row_number() over (partition by after_text_id order by at, id) = 1 as answers, s.in_since,
              least(999, floor(extract(epoch from at - s.in_since) / extract(epoch from ${MONTH})))::smallint as month
         from inbound_text j left join lateral (
           select min(e.at) as in_since from consent_event e where e.person_id = j.person_id and e.kind = 'opted-in' and e.at <= j.at) s on true
        where meaning in ('reply', 'unclear')) g) f where f.id = i.id`,
  `create trigger tell_firsts before insert or update of meaning, after_text_id on inbound_text for each row execute function tell_firsts()`,

  `alter table consent_event add column comes boolean not null default false, add column leaves boolean not null default false,
     add column in_since timestamptz, add column after_text_id text`,
  `create function tell_coming() returns trigger language plpgsql as $$
     declare before record;
     begin
       new.after_text_id := new.evidence ->> 'afterTextId';
       if ${carried('new')} or new.evidence -> 'again' is not null then return new; end if;
       select p.kind, p.at into before from consent_event p where p.person_id = new.person_id and p.program_id = new.program_id
          and p.channel = new.channel and p.seq < new.seq and p.kind <> 'asked' order by p.seq desc limit 1;
       new.comes := new.kind = 'opted-in' and coalesce(before.kind, '') <> 'opted-in';
       new.leaves := new.kind = 'opted-out' and coalesce(before.kind, '') = 'opted-in';
       if new.kind <> 'opted-in' and coalesce(before.kind, '') = 'opted-in' then new.in_since := before.at; end if;
       return new;
     end $$`,
  `alter table consent_event disable trigger append_only`,
  `update consent_event e set after_text_id = e.evidence ->> 'afterTextId', comes = f.counts and e.kind = 'opted-in' and f.before <> 'opted-in',
          leaves = f.counts and e.kind = 'opted-out' and f.before = 'opted-in',
          in_since = case when f.counts and e.kind <> 'opted-in' and f.before = 'opted-in' then f.before_at end from (
     select id, coalesce(lag(kind) over same, '') as before, lag(at) over same as before_at,
            p.evidence -> 'again' is null and ${carried('p')} is not true as counts
       from consent_event p where kind <> 'asked' window same as (partition by person_id, program_id, channel order by seq)) f where f.id = e.id`,
  `alter table consent_event enable trigger append_only`,
  `create trigger tell_coming before insert on consent_event for each row when (new.kind <> 'asked') execute function tell_coming()`,

  `alter table engagement add column first boolean not null default false`,
  `create index engagement_text on engagement (text_id, id) where text_id is not null`,
  `create function tell_first_click() returns trigger language plpgsql as $$
     begin
       new.first := new.text_id is null or not exists (select 1 from engagement p where p.text_id = new.text_id and p.kind = 'clicked');
       return new;
     end $$`,
  `update engagement e set first = true from (
     select id, row_number() over (partition by coalesce(text_id, id::text) order by id) as nth from engagement where kind = 'clicked') f
    where f.id = e.id and f.nth = 1`,
  `create trigger tell_first_click before insert on engagement for each row when (new.kind = 'clicked') execute function tell_first_click()`,
];

const local = (at: string): string => `(${at} at time zone w.zone)`;
const dayOf = (at: string): string => `${local(at)}::date`;
const monthOf = (at: string): string => `date_trunc('month', ${local(at)})::date`;
/** Hours since Monday began. */
const hourOf = (at: string): string =>
  `((extract(isodow from ${local(at)}) - 1) * 24 + extract(hour from ${local(at)}))::smallint`;

/** One row of sums, in SQL: what stands in `tally` beside the workspace and the sign. `id` null: there is none. */
interface Sum {
  about: 'day' | 'hour' | 'stay';
  id: string;
  channel: string;
  day: string;
  what: string;
  nth?: string;
  reason?: string;
  parts?: string;
  credits?: string;
}
const values = (sums: readonly Sum[]): string =>
  `(values ${sums
    .map(
      ({
        about,
        id,
        channel,
        day,
        what,
        nth = 'null::smallint',
        reason = "''",
        parts = '0',
        credits = '0',
      }) => `('${about}', ${id}, ${channel}, ${day}, ${nth}, ${what}, ${reason}, ${parts}, ${credits})`,
    )
    .join(', ')}) as v (about, id, channel, day, nth, what, reason, parts, credits)`;

/** What came of a message, on the day and at the hour it left. */
const onDay = (id: string, what: string, m: string, more: Partial<Sum> = {}): Sum => ({
  ...{ about: 'day', id, channel: `${m}.channel`, day: dayOf(`${m}.submitted_at`), what, ...more },
});
const atHour = (id: string, what: string, m: string): Sum => ({
  ...{
    about: 'hour',
    id,
    channel: `${m}.channel`,
    day: monthOf(`${m}.submitted_at`),
    nth: hourOf(`${m}.submitted_at`),
    what,
  },
});

/** What somebody tried out, or was told as a teammate, counts nowhere; shares are of what we began ourselves. */
const counts = (m: string): string => `${m}.kind not in ('trial', 'told')`;
const begun = (m: string): string =>
  `${m}.kind in ('broadcast', 'sequence', 'sequence-answer', 'asking-again', 'call-text')`;

/** Of a message (`t`), once it has left. */
const OF_MESSAGE: Sum[] = [
  onDay(`case when ${counts('t')} then t.program_id end`, 't.state', 't', {
    reason: "coalesce(t.failure, '')",
    parts: 'coalesce(t.parts, 0)',
    credits: 't.credits',
  }),
  onDay(`case when t.state = 'delivered' and ${begun('t')} then t.program_id end`, "'begun'", 't'),
  atHour(
    `case when t.state in ('delivered', 'failed') and ${begun('t')} then t.program_id end`,
    't.state',
    't',
  ),
];

/** Of what came in (`t`, after message `m`): by when it came, by when its message left, and by when its writer came. */
const FIRST_ANSWER = `case when t.answers and m.submitted_at is not null and ${begun('m')} then m.program_id end`;
const came = (which: string, what: string): Sum => ({
  ...{
    about: 'day',
    id: `case when ${which} then coalesce(m.program_id, '') end`,
    channel: 't.channel',
    day: dayOf('t.at'),
    what,
  },
});
const OF_INBOUND: Sum[] = [
  came(`t.meaning in ('reply', 'unclear')`, "'replied'"),
  came('t.begins', "'conversation'"),
  onDay(FIRST_ANSWER, "'answered'", 'm'),
  atHour(FIRST_ANSWER, "'answered'", 'm'),
  {
    about: 'stay',
    id: `case when t.month is not null then '' end`,
    channel: "''",
    day: dayOf('t.in_since'),
    nth: 't.month',
    what: "'wrote'",
  },
];

/** Of the ledger (`t`, after message `m`): who came by what, who went after what and after how long, what cost people. */
const COST = `case when t.leaves and m.submitted_at is not null and ${begun('m')} then m.program_id end`;
const stayed = (which: string, what: string): Sum => ({
  ...{
    about: 'stay',
    id: `case when ${which} then t.program_id end`,
    channel: 't.channel',
    day: dayOf('t.in_since'),
    what,
  },
  nth: `least(32767, floor(extract(epoch from t.at - t.in_since) / 86400))::smallint`,
});
const OF_CONSENT: Sum[] = [
  {
    about: 'day',
    id: 'case when t.comes then t.program_id end',
    channel: 't.channel',
    day: dayOf('t.at'),
    what: "'joined'",
    reason: 't.method',
  },
  {
    about: 'day',
    id: 'case when t.leaves then t.program_id end',
    channel: 't.channel',
    day: dayOf('t.at'),
    what: "'left'",
    reason: `coalesce(m.kind, '')`,
  },
  onDay(COST, "'lost'", 'm'),
  atHour(COST, "'lost'", 'm'),
  stayed('t.leaves', "'left'"),
  stayed(`t.kind = 'lapsed' and t.in_since is not null and t.evidence ->> 'importId' is null`, "'lapsed'"),
];

/** Of a click or a voucher used (`t`, of message `m`). */
const OF_ENGAGED: Sum[] = [
  {
    ...{
      about: 'day',
      id: `case when t.kind = 'redeemed' or t.first then coalesce(m.program_id, '') end`,
      channel: `coalesce(m.channel, '')`,
    },
    ...{ day: dayOf('t.at'), what: 't.kind' },
  },
];

/** Sums that rows make, each with how many it is (`sign`: +1 as it is, -1 as it was), its parts and credits signed. `join`: the message it is about, as `m`. */
const sumsOf = (rows: string, sums: readonly Sum[], join = '', gone = 'false'): string => `
  select t.workspace_id, v.about, v.id, v.channel, v.day, v.nth, v.what, v.reason, sum(t.sign)::integer as n,
         sum(v.parts)::integer as parts, sum(v.credits)::integer as credits, ${gone} as gone
    from (${rows}) t join workspace w on w.id = t.workspace_id ${join} cross join lateral ${values(sums)}
   where v.id is not null and v.day is not null group by 1, 2, 3, 4, 5, 6, 7, 8
  having sum(t.sign) <> 0 or sum(v.parts) <> 0 or sum(v.credits) <> 0`;

const INTO = `insert into tally (workspace_id, about, id, channel, day, nth, what, reason, n, parts, credits, gone)`;
const asThey = (name: string, sign: number): string => `select *, ${sign} as sign from ${name}`;
const both = (): string => `${asThey('fresh', 1)} union all ${asThey('stale', -1)}`;

const AFTER = `left join message m on m.id = t.after_text_id`;
const CONSENTED = `left join message m on m.id = t.after_text_id and m.program_id = t.program_id`;
const ENGAGED_WITH = `left join message m on m.id = t.text_id`;

/** Sends and numbers, as they were; days and hours beside them, in one statement. */
const DECIDES = `select r ->> 'code' as code from jsonb_array_elements(t.clearance -> 'reasons') with ordinality as e (r, nth) where r ->> 'effect' = 'block' order by nth limit 1`;
const HEAD = 'insert into message_tally (workspace_id, about, id, day, what, reason, n, parts, credits)';
const oldSums = (rows: string, into = HEAD): string => `${into}
  select t.workspace_id, v.about, v.id, v.day, t.state, coalesce(t.failure, ''), sum(t.sign), sum(t.sign * v.parts), sum(t.sign * v.credits)
    from (${rows}) t cross join lateral (values
      ('send', case when t.kind = 'broadcast' then t.send_id end, null::date,
       case when t.submitted_at is null then 0 else t.parts end, case when t.submitted_at is null then 0 else t.credits end),
      ('sender', case when t.submitted_at is not null then t.sender_id end, (t.submitted_at at time zone 'UTC')::date, 0, 0)) as v (about, id, day, parts, credits)
   where v.id is not null group by 1, 2, 3, 4, 5, 6
  having sum(t.sign) <> 0 or sum(t.sign * v.parts) <> 0 or sum(t.sign * v.credits) <> 0
  union all
  select t.workspace_id, 'send', t.send_id, null, 'block', r.code, sum(t.sign), 0, 0
    from (${rows}) t cross join lateral (${DECIDES}) r
   where t.kind = 'broadcast' and t.send_id is not null and t.state = 'blocked' group by 1, 3, 6 having sum(t.sign) <> 0`;
/**
 * Messages that make the same sums as one row: a slice leaves within seconds, and finding the day and the hour of each by itself
 * took longer than everything else here. Zones differ by whole minutes.
 */
const alike = (rows: string): string => `
  select workspace_id, program_id, channel, kind, state, failure, date_trunc('minute', submitted_at) as submitted_at, sum(sign)::integer as sign,
         sum(sign * coalesce(parts, 0))::integer as parts, sum(sign * credits)::integer as credits
    from (${rows}) s where submitted_at is not null group by 1, 2, 3, 4, 5, 6, 7`;
const messageSums = (rows: string): string =>
  `${oldSums(rows, HEAD.replace('message_tally', 'tally'))};
   ${INTO} ${sumsOf(alike(rows), OF_MESSAGE)}`;

const MESSAGES = [
  `create or replace function tally_messages() returns trigger language plpgsql as $$
     begin
       if tg_op = 'INSERT' then ${messageSums(asThey('fresh', 1))};
       elsif tg_op = 'DELETE' then ${messageSums(asThey('stale', -1))};
       else ${messageSums(both())};
       end if;
       return null;
     end $$`,
];

const INBOUND = [
  `create function tally_inbound() returns trigger language plpgsql as $$
     begin
       if tg_op = 'INSERT' then ${INTO} ${sumsOf(asThey('fresh', 1), OF_INBOUND, AFTER)};
       else ${INTO} ${sumsOf(both(), OF_INBOUND, AFTER)};
       end if;
       return null;
     end $$`,
  `create trigger tally_fresh after insert on inbound_text referencing new table as fresh for each statement execute function tally_inbound()`,
  `create trigger tally_changed after update on inbound_text referencing old table as stale new table as fresh for each statement execute function tally_inbound()`,
];

/** What an undone import takes back: what it had added, on the days it added it. */
const UNJOINED = `select e.*, -1 as sign
  from fresh l join consent_event e on e.workspace_id = l.workspace_id and e.person_id = l.person_id and e.program_id = l.program_id and e.channel = l.channel
   and e.kind = 'opted-in' and e.evidence ->> 'importId' = l.evidence ->> 'importId'
 where l.kind = 'lapsed' and l.evidence ->> 'importId' is not null
   and not exists (select 1 from consent_event u where u.person_id = l.person_id and u.program_id = l.program_id and u.channel = l.channel
                      and u.kind = 'lapsed' and u.evidence ->> 'importId' = l.evidence ->> 'importId' and u.seq < l.seq)`;

/** What an import gave and took back again never was. */
const STANDING = `(t.kind <> 'opted-in' or t.evidence ->> 'importId' is null or not exists (
  select 1 from consent_event u where u.workspace_id = t.workspace_id and u.person_id = t.person_id and u.program_id = t.program_id
     and u.channel = t.channel and u.kind = 'lapsed' and u.evidence ->> 'importId' = t.evidence ->> 'importId'))`;

const CONSENT = [
  `create function tally_consent() returns trigger language plpgsql as $$
     begin
       ${INTO} ${sumsOf(asThey('fresh', 1), OF_CONSENT, CONSENTED)};
       if exists (select 1 from fresh where kind = 'lapsed') then ${INTO} ${sumsOf(UNJOINED, OF_CONSENT, CONSENTED)}; end if;
       return null;
     end $$`,
  `create trigger tally_fresh after insert on consent_event referencing new table as fresh for each statement execute function tally_consent()`,
  // An erasure takes the ledger's entries away: they stay counted where no counting anew reaches.
  `create function tally_consent_gone() returns trigger language plpgsql as $$
     begin
       ${INTO} ${sumsOf(`select * from (${asThey('stale', 1)}) t where ${STANDING}`, OF_CONSENT, CONSENTED, 'true')};
       ${INTO} ${sumsOf(`select * from (${asThey('stale', -1)}) t where ${STANDING}`, OF_CONSENT, CONSENTED)};
       return null;
     end $$`,
  `create trigger tally_gone after delete on consent_event referencing old table as stale for each statement execute function tally_consent_gone()`,
];

const ENGAGED = [
  `create function tally_engaged() returns trigger language plpgsql as $$
     begin
       if tg_op = 'INSERT' then ${INTO} ${sumsOf(asThey('fresh', 1), OF_ENGAGED, ENGAGED_WITH)};
       else
         ${INTO} ${sumsOf(asThey('stale', 1), OF_ENGAGED, ENGAGED_WITH, 'true')};
         ${INTO} ${sumsOf(asThey('stale', -1), OF_ENGAGED, ENGAGED_WITH)};
       end if;
       return null;
     end $$`,
  `create trigger tally_fresh after insert on engagement referencing new table as fresh for each statement execute function tally_engaged()`,
  `create trigger tally_gone after delete on engagement referencing old table as stale for each statement execute function tally_engaged()`,
];

/** A column of instants between two days of the workspace. */
const within = (at: string): string => `${at} >= since_at and ${at} < until_at`;

/** Rows that fall into the span twice over, once by when it happened and once by when its message left, are counted by their day. */
const counted = (rows: string, sums: readonly Sum[], join: string): string =>
  `select * from (${sumsOf(rows, sums, join)}) c where c.day >= since_day and c.day < until_day`;

/**
 * The same, from the rows themselves, for the days from `since_day` until `until_day`. Replies and goings are looked for by when they
 * happened and by when their message left, since some sums go by the one and some by the other.
 */
const ANEW = `create function sums_of(of_workspace text, since_day date, until_day date)
  returns table (workspace_id text, about text, id text, channel text, day date, nth smallint, what text, reason text, n integer, parts integer, credits integer, gone boolean)
  language plpgsql stable as $$
  #variable_conflict use_column
  declare since_at timestamptz; until_at timestamptz;
  begin
    select since_day::timestamp at time zone w.zone, until_day::timestamp at time zone w.zone into since_at, until_at from workspace w where w.id = of_workspace;
    return query select * from (
      ${counted(`select *, 1 as sign from message s where s.workspace_id = of_workspace and ${within('s.submitted_at')}`, OF_MESSAGE, '')}
      union all ${counted(
        `select s.*, 1 as sign from inbound_text s left join message x on x.id = s.after_text_id
         where s.workspace_id = of_workspace and (${within('s.at')} or ${within('x.submitted_at')} or ${within('s.in_since')})`,
        OF_INBOUND,
        AFTER,
      )}
      union all ${counted(
        `select * from (select s.*, 1 as sign from consent_event s left join message x on x.id = s.after_text_id
         where s.workspace_id = of_workspace and (${within('s.at')} or ${within('x.submitted_at')} or ${within('s.in_since')})) t where ${STANDING}`,
        OF_CONSENT,
        CONSENTED,
      )}
      union all ${counted(`select *, 1 as sign from engagement s where s.workspace_id = of_workspace and ${within('s.at')}`, OF_ENGAGED, ENGAGED_WITH)}) every;
  end $$`;

const FILL = `${INTO} select s.* from workspace w cross join lateral sums_of(w.id, '-infinity', 'infinity') s`;

const BACK = [
  `delete from tally where about not in ('send', 'sender')`,
  `drop function sums_of(text, date, date)`,
  ...['engagement', 'consent_event', 'inbound_text'].map((table) => `drop trigger tally_fresh on ${table}`),
  ...['engagement', 'consent_event'].map((table) => `drop trigger tally_gone on ${table}`),
  `drop trigger tally_changed on inbound_text`,
  `drop trigger tell_first_click on engagement`,
  `drop trigger tell_coming on consent_event`,
  `drop trigger tell_firsts on inbound_text`,
  `drop function tally_engaged(), tally_consent_gone(), tally_consent(), tally_inbound(), tell_first_click(), tell_coming(), tell_firsts()`,
  `drop index engagement_text`,
  `alter table engagement drop column first`,
  `alter table consent_event drop column comes, drop column leaves, drop column in_since, drop column after_text_id`,
  `alter table inbound_text drop column begins, drop column answers, drop column in_since, drop column month`,
  `drop table sums_due`,
  `drop index tally_days`,
  `alter table tally drop constraint tally_about_check`,
  `alter table tally drop column channel, drop column nth, drop column gone`,
  `alter table tally add constraint message_tally_about_check check (about in ('send', 'sender'))`,
  `alter index tally_of rename to message_tally_of`,
  `alter index tally_apart rename to message_tally_apart`,
  `alter table tally rename to message_tally`,
  `create or replace function tally_messages() returns trigger language plpgsql as $$
     begin
       if tg_op = 'INSERT' then ${oldSums(asThey('fresh', 1))};
       elsif tg_op = 'DELETE' then ${oldSums(asThey('stale', -1))};
       else ${oldSums(both())};
       end if;
       return null;
     end $$`,
];
