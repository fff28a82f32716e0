import { Migration } from '@mikro-orm/migrations';

/** The voicemail channel: messages with their recordings, the account they are left by, waves; and calls with their outcomes. */
export class Migration20261128000041 extends Migration {
  override up(): void {
    for (const sql of [
      // door_key: in the address we are called back at.
      `create table voicemail_account (
         id text primary key, workspace_id text not null references workspace, name text not null, url text not null, account text not null, token text not null,
         door_key text not null unique, secret text not null, state text not null default 'closed' check (state in ('open', 'closed')), price integer not null default 4,
         checked_at timestamptz, trouble text, due_at timestamptz, removed_at timestamptz, created_by text references account, created_at timestamptz not null,
         unique (workspace_id, id))`,
      // One is enough: who leaves voicemails is told apart by their numbers.
      `create unique index voicemail_account_one on voicemail_account (workspace_id) where removed_at is null`,
      `create index voicemail_account_due on voicemail_account (due_at) where due_at is not null`,
      `create table voice_message (
         id text primary key, workspace_id text not null references workspace, name text not null, archived_at timestamptz, created_by text references account,
         created_at timestamptz not null, unique (workspace_id, id))`,
      `create unique index voice_message_name on voice_message (workspace_id, lower(name)) where archived_at is null`,
      // A recording never changes. heard_as: what the account calls it since it has it.
      `create table voice_recording (
         id text primary key, workspace_id text not null, message_id text not null, version integer not null, words text not null, seconds double precision not null,
         facts jsonb not null, size integer not null, heard_as text, created_by text references account, created_at timestamptz not null,
         unique (message_id, version), unique (workspace_id, id), foreign key (workspace_id, message_id) references voice_message (workspace_id, id) on delete cascade)`,
      // What only a voicemail knows, beside the message. from_number: whom it comes from, and is called back at, once it leaves.
      `create table voicemail (
         message_id text primary key, workspace_id text not null, account_id text, recording_id text not null, from_number text,
         foreign key (workspace_id, account_id) references voicemail_account (workspace_id, id), foreign key (workspace_id, recording_id) references voice_recording (workspace_id, id))`,
      `create index voicemail_recording on voicemail (recording_id)`,
      `create index message_voicemail_open on message (submitted_at) where channel = 'voicemail' and state = 'submitted'`,
      `create index message_voicemail_person on message (workspace_id, address, submitted_at) where channel = 'voicemail'`,
      // Waves that went, and what they were sized by. before: how large by what was thought before the drop.
      `create table drop_wave (
         id bigint generated always as identity primary key, workspace_id text not null references workspace, send_id text not null, at timestamptz not null, people integer not null,
         before integer not null, why text not null, called integer not null, expected double precision not null)`,
      `create index drop_wave_send on drop_wave (workspace_id, send_id, at)`,
      `alter table broadcast drop constraint broadcast_channel_check, add constraint broadcast_channel_check check (channel in ('sms', 'email', 'chat', 'voicemail')),
         add column recording_id text`,
      // There is no box behind it, as far as is known.
      `alter table address add column no_voicemail boolean not null default false`,
      `alter table membership add column takes_calls boolean not null default false`,
      // call_seconds: how long a call takes. may_be_busy: the share of calls that may find nobody free.
      `alter table workspace add column call_seconds integer not null default 240, add column may_be_busy double precision not null default 0.05`,
      // A telephone system that tells of calls. mapping: where what it tells stands.
      `create table switchboard (
         id text primary key, workspace_id text not null references workspace, name text not null, door_key text not null unique, secret text not null, signs text not null
           check (signs in ('none', 'standard')), mapping jsonb not null, numbers_url text, token text, heard_at timestamptz, removed_at timestamptz,
         created_by text references account, created_at timestamptz not null, unique (workspace_id, id))`,
      // What it told, known by its id or content, so that it counts once. content: null once it was worked on and is old.
      `create table call_event (
         id text primary key, workspace_id text not null, switchboard_id text not null, key text not null, content jsonb, trouble text, at timestamptz not null, due_at timestamptz,
         unique (switchboard_id, key), foreign key (workspace_id, switchboard_id) references switchboard (workspace_id, id))`,
      `create index call_event_due on call_event (due_at) where due_at is not null`,
      `create index call_event_at on call_event (switchboard_id, at)`,
      // calls: what the telephone system calls it. rank: the key it is chosen by on the desk.
      `create table call_outcome (
         id text primary key, workspace_id text not null references workspace, name text not null, calls text[] not null default '{}', rank integer not null, missed boolean not null default false,
         reached boolean not null default false, program_id text, body text, sequence_id text, archived_at timestamptz, created_at timestamptz not null, unique (workspace_id, id))`,
      `create unique index call_outcome_name on call_outcome (workspace_id, lower(name)) where archived_at is null`,
      `create table call (
         id text primary key, workspace_id text not null references workspace, switchboard_id text, outside_id text, direction text not null check (direction in ('in', 'out')),
         sender_id text, address text not null, person_id text, account_id text references account, teammate text not null default '', rang_at timestamptz not null,
         answered_at timestamptz, ended_at timestamptz, outcome_id text, outcome_at timestamptz, note text not null default '', after_message_id text, after_send_id text,
         settled_at timestamptz, created_at timestamptz not null, unique (workspace_id, id))`,
      `create unique index call_known on call (switchboard_id, outside_id) where outside_id is not null`,
      `create index call_person on call (workspace_id, person_id, rang_at)`,
      `create index call_waits on call (workspace_id, rang_at) where direction = 'in' and answered_at is null and settled_at is null`,
      `create index call_after on call (workspace_id, after_send_id) where after_send_id is not null`,
      `create index call_address on call (workspace_id, address, rang_at)`,
      // What an outcome sent, or why it sent nothing: each outcome of a call once.
      `create table call_text (
         id text primary key, call_id text not null, outcome_id text not null, workspace_id text not null, message_id text, because text, at timestamptz not null, due_at timestamptz,
         unique (call_id, outcome_id), foreign key (workspace_id, call_id) references call (workspace_id, id) on delete cascade)`,
      `create index call_text_due on call_text (due_at) where due_at is not null`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `drop table call_text, call, call_outcome, call_event, switchboard, drop_wave, voicemail`,
      `drop index message_voicemail_open, message_voicemail_person`,
      `select set_config('wren.erasing', 'on', true)`,
      ...[
        ['message_event', 'message_id'],
        ['text_part', 'text_id'],
        ['engagement', 'text_id'],
      ].map(
        ([table, column]) =>
          `delete from ${table} where ${column} in (select id from message where channel = 'voicemail')`,
      ),
      `delete from consent_state where channel = 'voicemail'`,
      `delete from consent_event where channel = 'voicemail'`,
      `select set_config('wren.erasing', 'off', true)`,
      `delete from message where channel = 'voicemail'`,
      `update message set kind = 'answer' where kind in ('call-text', 'call-answer')`,
      `delete from broadcast where channel = 'voicemail'`,
      `alter table broadcast drop column recording_id, drop constraint broadcast_channel_check,
         add constraint broadcast_channel_check check (channel in ('sms', 'email', 'chat'))`,
      `alter table address drop column no_voicemail`,
      `alter table membership drop column takes_calls`,
      `alter table workspace drop column call_seconds, drop column may_be_busy`,
      `drop table voice_recording, voice_message, voicemail_account`,
    ])
      this.addSql(sql);
  }
}
