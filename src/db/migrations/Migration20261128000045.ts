import { Migration } from '@mikro-orm/migrations';

/** Proofs that were made, with the hash by which one is checked; and reports that are kept, sent and shared. */
export class Migration20261128000045 extends Migration {
  override up(): void {
    for (const sql of [
      // The document goes with its person; that there was one of this hash stays.
      `create table proof (
         id text primary key, workspace_id text not null references workspace on delete cascade, person_id text, hash text not null, document jsonb,
         made_by text references account, made_at timestamptz not null)`,
      `create index proof_person on proof (workspace_id, person_id, made_at desc)`,
      `create unique index proof_hash on proof (workspace_id, hash)`,
      // query: the address of the page without the place. due_at null: it is not sent by itself.
      `create table report (
         id text primary key, workspace_id text not null references workspace on delete cascade, name text not null, place text not null, query text not null,
         every text check (every in ('day', 'week', 'month')), at_hour smallint check (at_hour between 0 and 23), recipients jsonb not null default '[]', due_at timestamptz,
         sent_at timestamptz, key_hash text unique, key_ends_at timestamptz, made_by text references account, made_at timestamptz not null)`,
      `create index report_of on report (workspace_id, made_at)`,
      `create index report_due on report (due_at) where due_at is not null`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`drop table report, proof`);
  }
}
