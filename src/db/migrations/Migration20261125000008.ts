import { Migration } from '@mikro-orm/migrations';

/**
 * Happenings: what happened to people, written by the tables themselves, so that no path can forget it, in the
 * transaction of what happened and in bulk where it happened in bulk. Webhooks and notices follow from them.
 */
export class Migration20261125000008 extends Migration {
  override up(): void {
    for (const statement of [...HAPPENINGS, ...TELLING, ...TRIGGERS, ...NOTICES, ...WEBHOOKS])
      this.addSql(statement);
  }

  override down(): void {
    this.addSql(`drop table webhook_try, webhook_delivery, webhook_endpoint, notice`);
    for (const [table, name] of TRIGGER_NAMES) this.addSql(`drop trigger ${name} on ${table}`);
    for (const name of FUNCTIONS) this.addSql(`drop function ${name}()`);
    this.addSql(`drop table happening, happening_cursor, happening_wanted, date_look`);
  }
}

const HAPPENINGS = [
  // seq is drawn while the person is held, so per person it rises in the order of what happened. Written for every message
  // that arrives, from rows that were checked: two indexes and no foreign keys, each of which would cost a lookup a row.
  `create table happening (
     seq bigint generated always as identity, workspace_id text not null, person_id text not null, kind text not null,
     subject text, detail jsonb, at timestamptz, primary key (workspace_id, seq))`,
  `create index happening_person on happening (person_id)`,
  // How far each consumer is in each workspace.
  `create table happening_cursor (
     consumer text not null, workspace_id text not null references workspace, after_seq bigint not null, primary key (consumer, workspace_id))`,
  // Happenings of which there are as many as messages are told only where a consumer said that it wants them.
  `create table happening_wanted (
     consumer text not null, workspace_id text not null references workspace, kinds text[] not null, primary key (workspace_id, consumer))`,
  // Which day of a workspace was looked at for dates of people.
  `create table date_look (workspace_id text primary key references workspace, day date not null)`,
];

/**
 * happening_begin: who writes happenings holds, until the end of the transaction, a lock that names the number after
 * which theirs will stand. Whoever reads stays below the lowest of those, and so never passes a row that commits late.
 * Merging and erasing are quiet: what moves with somebody did not happen to them.
 */
const TELLING = [
  `create function happening_begin() returns boolean language plpgsql as $$
     begin
       if current_setting('wren.quiet', true) = 'on' then return false; end if;
       if current_setting('wren.telling', true) is distinct from 'on' then
         perform pg_advisory_xact_lock_shared((7302::bigint << 40) | (select case when is_called then last_value else 0 end from happening_seq_seq));
         perform set_config('wren.telling', 'on', true);
       end if;
       return true;
     end $$`,
  `create function tell_label_put() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, subject, detail, at)
         select n.workspace_id, n.person_id, l.kind || '.put', n.label_id, case when n.batch_id is not null then jsonb_build_object('by', n.batch_id) end, n.at
           from fresh n join label l on l.id = n.label_id;
       end if;
       return null;
     end $$`,
  `create function tell_label_taken() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, subject)
         select o.workspace_id, o.person_id, l.kind || '.taken', o.label_id from gone o join label l on l.id = o.label_id;
       end if;
       return null;
     end $$`,
  `create function tell_consent() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, subject, detail, at)
         select workspace_id, person_id, case kind when 'opted-in' then 'program.joined' else 'program.left' end, program_id,
                jsonb_strip_nulls(jsonb_build_object('channel', channel, 'method', method, 'source', evidence -> 'source')), at
           from fresh where kind in ('opted-in', 'opted-out') order by seq;
       end if;
       return null;
     end $$`,
  `create function tell_inbound() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, subject, detail, at)
         select workspace_id, person_id, 'reply.received', id, jsonb_strip_nulls(jsonb_build_object('meaning', meaning, 'keyword', keyword, 'after', after_text_id)), at from fresh;
       end if;
       return null;
     end $$`,
  `create function tell_person_added() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, detail, at)
         select workspace_id, id, 'person.added', jsonb_build_object('source', source), created_at from fresh;
       end if;
       return null;
     end $$`,
  // A row at a time, and only where something changed that somebody follows: most changes of a person are none of those.
  `create function tell_person_changed() returns trigger language plpgsql as $$
     declare changed text[];
     begin
       if happening_begin() then
         if new.stage_id is distinct from old.stage_id then
           insert into happening (workspace_id, person_id, kind, subject, detail) values (new.workspace_id, new.id, 'stage.changed', new.stage_id, jsonb_build_object('before', old.stage_id));
         end if;
         if new.owner_id is distinct from old.owner_id then
           insert into happening (workspace_id, person_id, kind, subject, detail) values (new.workspace_id, new.id, 'owner.changed', new.owner_id, jsonb_build_object('before', old.owner_id));
         end if;
         changed := array_remove(array[
           case when new.first_name is distinct from old.first_name then 'first_name' end, case when new.last_name is distinct from old.last_name then 'last_name' end,
           case when new.email is distinct from old.email then 'email' end, case when new.number is distinct from old.number then 'number' end,
           case when new.region is distinct from old.region then 'region' end, case when new.postal_code is distinct from old.postal_code then 'postal_code' end], null)
           || array(select 'own.' || key from (select key from jsonb_object_keys(new.fields) key union select key from jsonb_object_keys(old.fields) key) k
                     where new.fields -> key is distinct from old.fields -> key order by key);
         if cardinality(changed) > 0 then
           insert into happening (workspace_id, person_id, kind, detail) values (new.workspace_id, new.id, 'person.changed', jsonb_build_object('fields', changed));
         end if;
       end if;
       return null;
     end $$`,
];

const FUNCTIONS = [
  ...['tell_person_changed', 'tell_person_added', 'tell_inbound', 'tell_consent'],
  ...['tell_label_taken', 'tell_label_put', 'happening_begin'],
];

const TRIGGER_NAMES = [
  ['person_label', 'tell_put'],
  ['person_label', 'tell_taken'],
  ['consent_event', 'tell'],
  ['inbound_text', 'tell'],
  ['person', 'tell_added'],
  ['person', 'tell_changed'],
] as const;

const TRIGGERS = [
  `create trigger tell_put after insert on person_label referencing new table as fresh for each statement execute function tell_label_put()`,
  `create trigger tell_taken after delete on person_label referencing old table as gone for each statement execute function tell_label_taken()`,
  `create trigger tell after insert on consent_event referencing new table as fresh for each statement execute function tell_consent()`,
  `create trigger tell after insert on inbound_text referencing new table as fresh for each statement execute function tell_inbound()`,
  `create trigger tell_added after insert on person referencing new table as fresh for each statement execute function tell_person_added()`,
  `create trigger tell_changed after update on person for each row
     when ((old.stage_id, old.owner_id, old.first_name, old.last_name, old.email, old.number, old.region, old.postal_code, old.fields)
        is distinct from (new.stage_id, new.owner_id, new.first_name, new.last_name, new.email, new.number, new.region, new.postal_code, new.fields))
     execute function tell_person_changed()`,
];

const NOTICES = [
  // What a teammate is told; read_at: they have seen it.
  `create table notice (
     id text primary key, workspace_id text not null references workspace, account_id text not null references account, person_id text not null,
     kind text not null, subject text, at timestamptz not null, read_at timestamptz,
     foreign key (workspace_id, person_id) references person (workspace_id, id))`,
  `create index notice_unread on notice (workspace_id, account_id, at) where read_at is null`,
  `create index notice_person on notice (person_id)`,
];

const WEBHOOKS = [
  // secrets: the newest first; an older one goes on signing until old_until.
  `create table webhook_endpoint (
     id text primary key, workspace_id text not null references workspace, url text not null, note text not null, kinds text[] not null,
     secret text not null, old_secret text, old_until timestamptz, state text not null check (state in ('on', 'off')), created_by text references account,
     created_at timestamptz not null, unique (workspace_id, id))`,
  // next_at: when it is tried next; null: it arrived, or was set aside (aside_at).
  `create table webhook_delivery (
     id text primary key, workspace_id text not null, endpoint_id text not null, person_id text, kind text not null, body text not null,
     tries integer not null default 0, next_at timestamptz, arrived_at timestamptz, aside_at timestamptz, created_at timestamptz not null, unique (workspace_id, id),
     foreign key (workspace_id, endpoint_id) references webhook_endpoint (workspace_id, id) on delete cascade)`,
  `create index webhook_delivery_due on webhook_delivery (next_at) where next_at is not null`,
  `create index webhook_delivery_waiting on webhook_delivery (endpoint_id, person_id, id) where next_at is not null`,
  `create index webhook_delivery_log on webhook_delivery (endpoint_id, id desc)`,
  `create index webhook_delivery_person on webhook_delivery (person_id) where person_id is not null`,
  // status: what the other side answered; null: it could not be reached, and why stands in answer.
  `create table webhook_try (
     id bigint generated always as identity primary key, workspace_id text not null, delivery_id text not null, status integer, answer text not null, ms integer not null,
     at timestamptz not null, foreign key (workspace_id, delivery_id) references webhook_delivery (workspace_id, id) on delete cascade)`,
  `create index webhook_try_delivery on webhook_try (delivery_id, id)`,
];
