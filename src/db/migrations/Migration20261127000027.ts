import { Migration } from '@mikro-orm/migrations';

/** Things to write about, and which sends named them. */
export class Migration20261127000027 extends Migration {
  override up(): void {
    for (const sql of [
      // key: its number as merge fields know it. uid: what its calendar knows it by. gone_at: it is offered no more.
      `create table item (
         id text primary key, workspace_id text not null references workspace, number text not null, key text not null, kind text not null check (kind in ('event', 'tour', 'article')),
         name text not null, place text not null, price text not null, url text not null, media_id text, starts_at timestamptz, ends_at timestamptz, all_day boolean not null,
         state text not null check (state in ('on', 'sold-out', 'cancelled')), uid text, gone_at timestamptz, created_at timestamptz not null, updated_at timestamptz not null,
         unique (workspace_id, id), unique (workspace_id, key))`,
      `create index item_coming on item (workspace_id, starts_at) where gone_at is null`,
      `create unique index item_uid on item (workspace_id, uid) where uid is not null`,
      // step_id: the line of a sequence; empty: all of the send.
      `create table written_about (
         workspace_id text not null, send_id text not null, step_id text not null, item_id text not null, primary key (send_id, step_id, item_id),
         foreign key (workspace_id, send_id) references send (workspace_id, id), foreign key (workspace_id, item_id) references item (workspace_id, id))`,
      `create index written_about_item on written_about (item_id, send_id)`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [`drop table written_about`, `drop table item`]) this.addSql(sql);
  }
}
