import { Migration } from '@mikro-orm/migrations';

/** The inbox: whose a thread is, why it waits, what is put off, notes, how long people waited, prepared answers. */
export class Migration20261128000042 extends Migration {
  override up(): void {
    for (const sql of [
      // why: of what came since they began to wait; null: nothing known. later_since: what they write after it ends the putting off.
      `create table thread (
         workspace_id text not null, person_id text not null, account_id text references account, given_at timestamptz, why text, why_at timestamptz, channel text, sender_id text,
         program_id text, later_until timestamptz, later_why text check (later_why in ('later', 'no-answer')), later_since timestamptz, later_told boolean not null default false,
         done_at timestamptz, primary key (workspace_id, person_id), foreign key (workspace_id, person_id) references person (workspace_id, id) on delete cascade)`,
      `create index thread_later on thread (workspace_id, later_until) where later_until is not null`,
      `create index thread_later_due on thread (later_until) where later_until is not null and not later_told`,
      `create index thread_done on thread (workspace_id, done_at) where done_at is not null`,
      // Words between teammates: they go to nobody.
      `create table thread_note (
         id text primary key, workspace_id text not null, person_id text not null, account_id text references account, body text not null, at timestamptz not null,
         foreign key (workspace_id, person_id) references person (workspace_id, id) on delete cascade)`,
      `create index thread_note_person on thread_note (workspace_id, person_id, at)`,
      // How long somebody waited, and who answered.
      `create table thread_turn (
         id text primary key, workspace_id text not null, person_id text not null, why text not null, since timestamptz not null, by_at timestamptz not null,
         ended_at timestamptz not null, how text not null check (how in ('answered', 'closed')), account_id text references account, message_id text)`,
      `create index thread_turn_ended on thread_turn (workspace_id, ended_at)`,
      `create index thread_turn_person on thread_turn (workspace_id, person_id)`,
      `create index thread_turn_message on thread_turn (message_id) where message_id is not null`,
      // reply_minutes: within which a plain reply should be answered. reply_rule: who gets what nobody has; null: nobody.
      `alter table workspace add column reply_minutes integer not null default 60, add column reply_rule jsonb`,
      // Words that were typed by somebody, in or out. What went to thousands finds nobody in particular.
      `create index inbound_text_words on inbound_text using gin (to_tsvector('simple', body))`,
      `create index message_words on message using gin (to_tsvector('simple', body)) where kind = 'answer'`,
      `create index thread_note_words on thread_note using gin (to_tsvector('simple', body))`,
      // Of a template that answers people: the question it answers. What was answered with it.
      `alter table template add column question text`,
      `create table prepared_use (
         message_id text primary key, workspace_id text not null, template_id text not null, person_id text not null, said text not null, at timestamptz not null,
         foreign key (workspace_id, person_id) references person (workspace_id, id) on delete cascade)`,
      `create index prepared_use_template on prepared_use (workspace_id, template_id, at)`,
      `create index prepared_use_at on prepared_use (workspace_id, at)`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `drop table prepared_use, thread_turn, thread_note, thread`,
      `drop index inbound_text_words`,
      `drop index message_words`,
      `alter table workspace drop column reply_minutes, drop column reply_rule`,
      `alter table template drop column question`,
    ])
      this.addSql(sql);
  }
}
