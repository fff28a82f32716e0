import { Migration } from '@mikro-orm/migrations';

/** What a key may do, and what it did. */
export class Migration20261127000036 extends Migration {
  override up(): void {
    for (const sql of [
      // Null: everything, as keys before this could.
      `alter table api_key add column scopes text[]`,
      `create table api_call (
         seq bigint generated always as identity primary key, workspace_id text not null, key_id text not null references api_key on delete cascade,
         at timestamptz not null, method text not null, path text not null, status integer not null, ms integer not null, request text)`,
      `create index api_call_key on api_call (key_id, seq desc)`,
      `create index api_call_at on api_call using brin (at)`,
      // The same request sent twice is known by what it says, too.
      `alter table press add column said text`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`alter table press drop column said`);
    this.addSql(`drop table api_call`);
    this.addSql(`alter table api_key drop column scopes`);
  }
}
