import { Migration } from '@mikro-orm/migrations';

/** Forms by which people join, what was sent by them, and pictures. */
export class Migration20261126000018 extends Migration {
  override up(): void {
    for (const sql of [
      `create table picture (
         id text primary key, workspace_id text not null references workspace, name text not null, type text not null, bytes bytea not null,
         width integer not null, height integer not null, made_by text references account, made_at timestamptz not null, unique (workspace_id, id))`,
      // version is the one that is shown; null: it was never published. document is what is worked on.
      `create table form (
         id text primary key, workspace_id text not null references workspace, code text not null unique, name text not null, program_id text not null, document jsonb not null,
         version integer, welcome text, offer_id text, closed_at timestamptz, stamp integer not null default 0, created_by text references account, created_at timestamptz not null,
         unique (workspace_id, id), foreign key (workspace_id, program_id) references program (workspace_id, id), foreign key (workspace_id, offer_id) references offer (workspace_id, id))`,
      `create unique index form_name on form (workspace_id, lower(name))`,
      `create table form_label (
         workspace_id text not null, form_id text not null, label_id text not null, primary key (form_id, label_id),
         foreign key (workspace_id, form_id) references form (workspace_id, id) on delete cascade,
         foreign key (workspace_id, label_id) references label (workspace_id, id) on delete cascade)`,
      `create table form_sequence (
         workspace_id text not null, form_id text not null, sequence_id text not null, primary key (form_id, sequence_id),
         foreign key (workspace_id, form_id) references form (workspace_id, id) on delete cascade,
         foreign key (workspace_id, sequence_id) references sequence (workspace_id, id) on delete cascade)`,
      // wording: what is agreed to, as it stood beside the box. Versions never change.
      `create table form_version (
         form_id text not null, version integer not null, workspace_id text not null, document jsonb not null, wording text not null,
         published_at timestamptz not null, published_by text references account, primary key (form_id, version),
         foreign key (workspace_id, form_id) references form (workspace_id, id) on delete cascade)`,
      // A page that was drawn by somebody's browser: furthest is the last field they touched, from 1.
      `create table form_visit (
         press text not null, form_id text not null, workspace_id text not null, version integer not null, opened_at timestamptz not null, begun_at timestamptz,
         furthest integer not null default 0, primary key (form_id, press), foreign key (workspace_id, form_id) references form (workspace_id, id) on delete cascade)`,
      `create table submission (
         id text primary key, workspace_id text not null, form_id text not null, version integer not null, press text not null, number text not null, filled jsonb not null,
         person_id text, address text not null, agent text not null, state text not null check (state in ('received', 'asked', 'proved', 'lapsed', 'held', 'dropped', 'refused')),
         because text, released boolean not null default false, at timestamptz not null, asked_at timestamptz, settled_at timestamptz, due_at timestamptz,
         unique (form_id, press), unique (workspace_id, id), foreign key (workspace_id, form_id) references form (workspace_id, id),
         foreign key (workspace_id, person_id) references person (workspace_id, id))`,
      `create index submission_due on submission (due_at) where due_at is not null`,
      `create index submission_address on submission (form_id, address, at)`,
      `create index submission_number on submission (workspace_id, number, asked_at)`,
      `create index submission_form on submission (form_id, at)`,
      `create index submission_asked on submission (form_id, asked_at) where asked_at is not null`,
      `create index submission_person on submission (person_id) where person_id is not null`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`drop table submission, form_visit, form_version, form_sequence, form_label, form, picture`);
  }
}
