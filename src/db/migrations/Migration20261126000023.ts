import { Migration } from '@mikro-orm/migrations';

/** Several wordings of a broadcast, who is left out while it goes, and limits at which it is held by itself. */
export class Migration20261126000023 extends Migration {
  override up(): void {
    for (const sql of [
      // Wordings beside the first and how they are compared; null: there is one. Chosen: which one the rest gets.
      `alter table broadcast add column comparison jsonb, add column chosen smallint`,
      // Which wording it is, the first is 0; null: there was one.
      `alter table message add column wording smallint`,
      // Why it was held by itself, null: it was not; and what somebody let go on since.
      `alter table broadcast add column held jsonb, add column waived text[] not null default '{}'`,
      // Shares from which on a broadcast is held; null: as it ships.
      `alter table workspace add column send_limits jsonb`,
      `create table broadcast_left_out (
         workspace_id text not null references workspace, broadcast_id text not null, person_id text not null references person,
         at timestamptz not null, primary key (broadcast_id, person_id),
         foreign key (workspace_id, broadcast_id) references broadcast (workspace_id, id))`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `drop table broadcast_left_out`,
      `alter table workspace drop column send_limits`,
      `alter table broadcast drop column waived, drop column held`,
      `alter table message drop column wording`,
      `alter table broadcast drop column chosen, drop column comparison`,
    ])
      this.addSql(sql);
  }
}
