import { Migration } from '@mikro-orm/migrations';

/** Templates with their versions, and which broadcast began from one. */
export class Migration20261126000025 extends Migration {
  override up(): void {
    for (const sql of [
      // owner_id: whose it is; null: everybody's.
      `create table template (
         id text primary key, workspace_id text not null references workspace, owner_id text references account, folder text not null, name text not null,
         subject text, body text not null, version integer not null, created_at timestamptz not null, updated_at timestamptz not null,
         unique (workspace_id, id))`,
      `create index template_of on template (workspace_id, folder, name)`,
      `create table template_version (
         workspace_id text not null references workspace, template_id text not null, version integer not null, subject text, body text not null,
         changed_by text references account, at timestamptz not null, primary key (template_id, version),
         foreign key (workspace_id, template_id) references template (workspace_id, id) on delete cascade)`,
      `alter table broadcast add column template_id text`,
      `create index broadcast_template on broadcast (template_id) where template_id is not null`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `alter table broadcast drop column template_id`,
      `drop table template_version`,
      `drop table template`,
    ])
      this.addSql(sql);
  }
}
