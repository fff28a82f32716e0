import { Migration } from '@mikro-orm/migrations';

/**
 * What became of messages, counted as it happens: each statement that changes messages adds the differences it makes,
 * in its own transaction. Differences are only ever added, so that two who send at once do not wait for each other; a
 * tick puts those of one send, and of one number and day, together.
 */
export class Migration20261127000029 extends Migration {
  override up(): void {
    for (const sql of [...TALLY, ...AFTER_SEND, WAITING]) this.addSql(sql);
  }

  override down(): void {
    for (const sql of BACK) this.addSql(sql);
  }
}

/** Differences that rows make, each with a sign: `+1` as it is, `-1` as it was. */
const adds = (rows: string): string => `
  insert into message_tally (workspace_id, about, id, day, what, reason, n, parts, credits)
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

/** The reason that blocks a message (`t`), of several the first. */
const DECIDES = `select r ->> 'code' as code from jsonb_array_elements(t.clearance -> 'reasons') with ordinality as e (r, nth) where r ->> 'effect' = 'block' order by nth limit 1`;

const asThey = (name: string, sign: number): string => `select *, ${sign} as sign from ${name}`;

const TALLY = [
  `create table message_tally (
     seq bigint generated always as identity primary key, workspace_id text not null references workspace on delete cascade,
     about text not null check (about in ('send', 'sender')), id text not null, day date, what text not null, reason text not null,
     n integer not null, parts integer not null, credits integer not null, together boolean not null default false)`,
  `create index message_tally_of on message_tally (workspace_id, about, id, day)`,
  `create index message_tally_apart on message_tally (seq) where not together`,
  `create function tally_messages() returns trigger language plpgsql as $$
     begin
       if tg_op = 'INSERT' then ${adds(asThey('fresh', 1))};
       elsif tg_op = 'DELETE' then ${adds(asThey('stale', -1))};
       else ${adds(`${asThey('fresh', 1)} union all ${asThey('stale', -1)}`)};
       end if;
       return null;
     end $$`,
  `create trigger tally_fresh after insert on message referencing new table as fresh for each statement execute function tally_messages()`,
  `create trigger tally_changed after update on message referencing old table as stale new table as fresh for each statement execute function tally_messages()`,
  `create trigger tally_gone after delete on message referencing old table as stale for each statement execute function tally_messages()`,
  adds(asThey('message', 1)),
];

/** What came back says after which send it came, so that a send knows its own without looking through its messages. */
const AFTER_SEND = [
  `alter table inbound_text add column after_send_id text`,
  `alter table engagement add column send_id text`,
  `update inbound_text i set after_send_id = t.send_id from message t where t.id = i.after_text_id`,
  `update engagement e set send_id = t.send_id from message t where t.id = e.text_id`,
  `create index inbound_after_send on inbound_text (after_send_id) where after_send_id is not null`,
  `create index engagement_send on engagement (send_id) where send_id is not null`,
  `create function tell_after_send() returns trigger language plpgsql as $$
     begin
       if new.after_send_id is null then
         select send_id into new.after_send_id from message where id = new.after_text_id;
       end if;
       return new;
     end $$`,
  `create trigger tell_after_send before insert or update of after_text_id on inbound_text for each row
     when (new.after_text_id is not null) execute function tell_after_send()`,
  `create function tell_engaged_send() returns trigger language plpgsql as $$
     begin
       if new.send_id is null then
         select send_id into new.send_id from message where id = new.text_id;
       end if;
       return new;
     end $$`,
  `create trigger tell_engaged_send before insert on engagement for each row when (new.text_id is not null) execute function tell_engaged_send()`,
  // Who leaves a letter by its link writes nothing: only these few are looked through.
  `create index consent_event_left_mail on consent_event ((evidence ->> 'afterTextId')) where channel = 'email' and kind = 'opted-out'`,
];

/** What waits in a workspace, and until when: the ribbon, Today and each number ask, whatever else there is. */
const WAITING = `create index message_waits on message (workspace_id, not_before) where not_before is not null`;

const BACK = [
  `drop index message_waits`,
  `drop index consent_event_left_mail`,
  `drop trigger tell_engaged_send on engagement`,
  `drop trigger tell_after_send on inbound_text`,
  `drop function tell_engaged_send()`,
  `drop function tell_after_send()`,
  `alter table engagement drop column send_id`,
  `alter table inbound_text drop column after_send_id`,
  `drop trigger tally_gone on message`,
  `drop trigger tally_changed on message`,
  `drop trigger tally_fresh on message`,
  `drop function tally_messages()`,
  `drop table message_tally`,
];
