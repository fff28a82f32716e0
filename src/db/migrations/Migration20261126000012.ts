import { Migration } from '@mikro-orm/migrations';

/** Sequences: documents with their versions, who is where in them, what became of each line; and tasks for teammates. */
export class Migration20261126000012 extends Migration {
  override up(): void {
    for (const statement of [...SEQUENCES, ...ENROLMENTS, ...MESSAGES, ...TASKS, ...TELLING])
      this.addSql(statement);
  }

  override down(): void {
    for (const statement of BACK) this.addSql(statement);
  }
}

const SEQUENCES = [
  // `draft_stamp` counts up at each save: who saves an older one is told. `version`: the one people enter; null: none yet.
  `create table sequence (
     id text primary key, workspace_id text not null references workspace, name text not null, program_id text not null,
     state text not null check (state in ('draft', 'running', 'paused', 'stopped')),
     draft jsonb not null, draft_stamp integer not null default 1, draft_by text references account, version integer,
     created_by text references account, created_at timestamptz not null, updated_at timestamptz not null,
     unique (workspace_id, id))`,
  `create unique index sequence_name on sequence (workspace_id, lower(name))`,
  // Never changed: who entered a version stays on it until moved.
  `create table sequence_version (
     workspace_id text not null, sequence_id text not null, version integer not null, document jsonb not null,
     published_by text references account, published_at timestamptz not null,
     primary key (sequence_id, version), foreign key (workspace_id, sequence_id) references sequence (workspace_id, id))`,
  // Which day of dates was looked at; a sequence can begin days before or after one.
  `create table sequence_date_look (workspace_id text primary key references workspace, day date not null)`,
];

const ENROLMENTS = [
  // `due_at` is the engine's; `look_at` says when the scheduler looks, and is empty while a message is on its way or the
  // sequence is paused, so that whoever waits for nothing costs nothing.
  `create table enrolment (
     id text primary key, workspace_id text not null references workspace, sequence_id text not null references sequence, version integer not null,
     person_id text not null references person, state text not null check (state in ('waiting', 'sending', 'ended')),
     began_at timestamptz not null, begun_by text not null, prompted boolean not null, line text, arrived_at timestamptz not null,
     due_at timestamptz, look_at timestamptz, before_at timestamptz not null, left_at timestamptz, acted jsonb not null default '{}',
     not_before timestamptz, asks text, ended_at timestamptz, ended_why text,
     check ((state = 'ended') = (ended_at is not null)), check (state <> 'ended' or look_at is null))`,
  `create index enrolment_look on enrolment (look_at) where look_at is not null`,
  `create unique index enrolment_open on enrolment (person_id, sequence_id) where state <> 'ended'`,
  `create index enrolment_person on enrolment (person_id)`,
  `create index enrolment_sequence on enrolment (sequence_id, state, line)`,
  // What became of each line; nobody comes by a line twice. `because` is empty where it was done.
  `create table enrolment_line (
     workspace_id text not null references workspace, enrolment_id text not null references enrolment on delete cascade, sequence_id text not null,
     line text not null, at timestamptz not null, because text, message_id text, primary key (enrolment_id, line))`,
  `create index enrolment_line_sequence on enrolment_line (sequence_id, line)`,
];

const MESSAGES = [
  // A broadcast means somebody once, a sequence once for each of its lines each time they are in it.
  `alter table message add column enrolment_id text, drop constraint text_broadcast_id_person_id_key`,
  `create unique index message_once on message (send_id, person_id, enrolment_id, step_id) nulls not distinct where send_id is not null`,
  // However a message stops waiting (it leaves, is blocked or called back), the sequence it came from goes on.
  `create function settle_enrolment() returns trigger language plpgsql as $$
     begin
       update enrolment set look_at = coalesce(new.submitted_at, new.settled_at, now()) where id = new.enrolment_id and state = 'sending';
       return null;
     end $$`,
  `create trigger settle_enrolment after update of not_before on message for each row
     when (old.not_before is not null and new.not_before is null and new.enrolment_id is not null) execute function settle_enrolment()`,
];

const TASKS = [
  `create table task (
     id text primary key, workspace_id text not null references workspace, person_id text references person, title text not null,
     account_id text references account, state text not null check (state in ('open', 'done', 'over')), due_at timestamptz not null,
     note text, source text not null, source_id text, created_by text references account, created_at timestamptz not null,
     settled_at timestamptz, settled_by text, unique (workspace_id, id))`,
  `create index task_open on task (workspace_id, account_id, due_at) where state = 'open'`,
  `create index task_person on task (person_id)`,
];

/** Joining tells by which keyword, so that a sequence can begin by one. */
const tellConsent = (
  more: string,
) => `create or replace function tell_consent() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, subject, detail, at)
         select workspace_id, person_id, case kind when 'opted-in' then 'program.joined' else 'program.left' end, program_id,
                jsonb_strip_nulls(jsonb_build_object('channel', channel, 'method', method, 'source', evidence -> 'source'${more})), at
           from fresh where kind in ('opted-in', 'opted-out') order by seq;
       end if;
       return null;
     end $$`;

const TELLING = [
  tellConsent(`, 'keyword', case when method = 'keyword' then evidence -> 'said' end`),
  `create function tell_engagement() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, subject, at)
         select workspace_id, person_id, case kind when 'clicked' then 'link.clicked' else 'voucher.redeemed' end, text_id, at from fresh where kind in ('clicked', 'redeemed');
       end if;
       return null;
     end $$`,
  `create trigger tell after insert on engagement referencing new table as fresh for each statement execute function tell_engagement()`,
];

const BACK = [
  tellConsent(''),
  `drop trigger tell on engagement`,
  `drop function tell_engagement()`,
  `drop table task`,
  `drop trigger settle_enrolment on message`,
  `drop function settle_enrolment()`,
  // What sequences sent was sent: it stays as messages of no send.
  `update message set kind = 'answer', send_id = null, step_id = null where enrolment_id is not null`,
  `delete from send where kind = 'sequence'`,
  `drop index message_once`,
  `alter table message drop column enrolment_id, add constraint text_broadcast_id_person_id_key unique (send_id, person_id)`,
  `drop table enrolment_line, enrolment, sequence_date_look, sequence_version, sequence`,
];
