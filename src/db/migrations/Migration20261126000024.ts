import { Migration } from '@mikro-orm/migrations';

/** Broadcasts that are sent again and again, and results that are shared by a link. */
export class Migration20261126000024 extends Migration {
  override up(): void {
    for (const sql of [
      // When it is sent again; and the first of those that repeat, null: it is the first, or repeats not.
      `alter table broadcast add column repeat jsonb, add column series_id text`,
      `create index broadcast_calendar on broadcast (workspace_id, send_at) where send_at is not null`,
      `alter table membership add column sends_calendar_hash text`,
      `create unique index membership_sends_calendar on membership (sends_calendar_hash) where sends_calendar_hash is not null`,
      `create table shared_result (
         id text primary key, workspace_id text not null references workspace, broadcast_id text not null, key_hash text not null unique,
         created_by text references account, created_at timestamptz not null, ends_at timestamptz not null,
         foreign key (workspace_id, broadcast_id) references broadcast (workspace_id, id))`,
      `create index shared_result_of on shared_result (broadcast_id)`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `drop table shared_result`,
      `alter table membership drop column sends_calendar_hash`,
      `drop index broadcast_calendar`,
      `alter table broadcast drop column series_id, drop column repeat`,
    ])
      this.addSql(sql);
  }
}
