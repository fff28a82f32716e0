import { Migration } from '@mikro-orm/migrations';

/** Links of every message: short ones with a target that can be changed, and who came by them. */
export class Migration20261126000021 extends Migration {
  override up(): void {
    for (const sql of [
      `create table link_target (
         id text primary key, workspace_id text not null references workspace, send_id text, written text not null, url text not null, created_at timestamptz not null,
         unique (workspace_id, id))`,
      `create unique index link_target_of on link_target (workspace_id, send_id, written) where send_id is not null`,
      `alter table mail_link rename to short_link`,
      `alter index mail_link_pkey rename to short_link_pkey`,
      `alter index mail_link_message_id_url_key rename to short_link_message_id_url_key`,
      // An address of one message leads where its target does; one of a letter is written beside it.
      `alter table short_link add column target_id text, alter url drop not null, add check (num_nonnulls(url, target_id) = 1),
         add foreign key (workspace_id, target_id) references link_target (workspace_id, id)`,
      `create index short_link_target on short_link (target_id, message_id) where target_id is not null`,
      `create table link_visit (
         id bigint generated always as identity primary key, workspace_id text not null references workspace, code text not null, message_id text not null,
         at timestamptz not null, device text not null check (device in ('phone', 'tablet', 'computer', 'unknown')),
         robot text)`,
      `create index link_visit_message on link_visit (message_id, at)`,
      `alter table broadcast add column links jsonb not null default '{"short": true, "plain": [], "utm": false}'`,
      // What short addresses begin with, on a host of the business; null: ours.
      `alter table workspace add column link_base text`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `alter table workspace drop column link_base`,
      `alter table broadcast drop column links`,
      `drop table link_visit`,
      `delete from short_link where url is null`,
      `alter table short_link drop column target_id, alter url set not null`,
      `alter index short_link_message_id_url_key rename to mail_link_message_id_url_key`,
      `alter index short_link_pkey rename to mail_link_pkey`,
      `alter table short_link rename to mail_link`,
      `drop table link_target`,
    ])
      this.addSql(sql);
  }
}
