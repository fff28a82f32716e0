import { Migration } from '@mikro-orm/migrations';

/** What reviewers of numbers are told of a business, its programs and its numbers, and what they say. */
export class Migration20261128000046 extends Migration {
  override up(): void {
    for (const sql of [
      // usual: seconds a review takes, by what is reviewed, as the registrar says.
      `create table registrar_account (
         id text primary key, workspace_id text not null references workspace on delete cascade, name text not null, url text not null, account text not null, token text not null,
         door_key text not null unique, secret text not null, state text not null default 'closed' check (state in ('open', 'closed')), usual jsonb not null default '{}',
         checked_at timestamptz, trouble text, due_at timestamptz, removed_at timestamptz, created_by text references account, created_at timestamptz not null)`,
      `create unique index registrar_account_one on registrar_account (workspace_id) where removed_at is null`,
      `create index registrar_account_due on registrar_account (due_at) where due_at is not null`,
      `create table registration_brand (
         workspace_id text primary key references workspace on delete cascade, file jsonb not null, stamp integer not null default 0, changed_at timestamptz not null)`,
      `create table registration_program (
         program_id text primary key references program on delete cascade, workspace_id text not null references workspace on delete cascade, written jsonb not null,
         stamp integer not null default 0, changed_at timestamptz not null)`,
      // One application each. subject: the program or the sender number; empty for the brand. told: the file as the reviewer has it, by its version.
      // change: a newer file of what is registered, which is reviewed while the old one counts. turn: how often the registrar has changed its mind, as we know it.
      `create table registration (
         id text primary key, workspace_id text not null references workspace on delete cascade, about text not null check (about in ('brand', 'program', 'number')),
         subject text not null, state text not null check (state in ('draft', 'waiting', 'in-review', 'question', 'registered', 'refused', 'withdrawn')),
         told jsonb, version integer not null default 0, change jsonb, reason text, turn integer not null default 0, taken_back boolean not null default false,
         handed_in_at timestamptz, decided_at timestamptz, due_at timestamptz, stamp integer not null default 0, created_by text references account, created_at timestamptz not null,
         unique (workspace_id, about, subject))`,
      `create index registration_due on registration (due_at) where due_at is not null`,
      `create table registration_step (
         id bigint generated always as identity primary key, workspace_id text not null references workspace on delete cascade, registration_id text not null references registration on delete cascade,
         event text not null, reason text, by text, at timestamptz not null)`,
      `create index registration_step_of on registration_step (registration_id, id)`,
      `create table registration_question (
         id text primary key, workspace_id text not null references workspace on delete cascade, registration_id text not null references registration on delete cascade,
         key text not null, field text not null, words text not null, asked_at timestamptz not null, answer text, answered_by text, answered_at timestamptz, told_at timestamptz,
         unique (registration_id, key))`,
      `create index registration_question_of on registration_question (workspace_id, asked_at)`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(
      `drop table registration_question, registration_step, registration, registration_program, registration_brand, registrar_account`,
    );
  }
}
