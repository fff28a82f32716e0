import { Migration } from '@mikro-orm/migrations';

/** A pause somebody wished for, which ends by itself; and leaving by hand, which stands some seconds before it counts. */
export class Migration20261127000033 extends Migration {
  override up(): void {
    for (const sql of [
      `alter table person add column paused_until timestamptz`,
      `create table pause (
         id text primary key, workspace_id text not null, person_id text not null, since timestamptz not null, until timestamptz not null check (until > since),
         said text, why text not null default '', recorded_by text not null, ended_at timestamptz, ended_by text,
         unique (workspace_id, id), foreign key (workspace_id, person_id) references person (workspace_id, id))`,
      `create index pause_person on pause (person_id)`,
      `create unique index pause_open on pause (workspace_id, person_id) where ended_at is null`,
      `create table leaving (
         id text primary key, workspace_id text not null, person_id text not null, program_id text, confirms boolean not null, why text not null,
         recorded_by text not null, asked_at timestamptz not null, due_at timestamptz not null,
         unique (workspace_id, id), unique (workspace_id, person_id), foreign key (workspace_id, person_id) references person (workspace_id, id),
         foreign key (workspace_id, program_id) references program (workspace_id, id))`,
      `create index leaving_due on leaving (due_at)`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`drop table leaving, pause`);
    this.addSql(`alter table person drop column paused_until`);
  }
}
