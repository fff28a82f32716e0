import { Migration } from '@mikro-orm/migrations';

/** When and from where a broadcast leaves: hours where each lives, a pace, chosen numbers. */
export class Migration20261126000022 extends Migration {
  override up(): void {
    for (const sql of [
      `alter table broadcast add column timing jsonb not null default '{"local": null, "hours": null, "pace": null, "senders": null}'`,
      // As it goes on now: its pace can be changed while it does.
      `alter table send add column timing jsonb, add column next_turn_at timestamptz`,
      // Of a send with a pace: it waits for its turn, and may have it from then on; null: it does not wait for one.
      `alter table message add column turn_at timestamptz`,
      `create index message_turn on message (send_id, turn_at, id) where turn_at is not null and not_before is not null`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `update message set not_before = turn_at where turn_at is not null and not_before is not null`,
      `alter table message drop column turn_at`,
      `alter table send drop column next_turn_at, drop column timing`,
      `alter table broadcast drop column timing`,
    ])
      this.addSql(sql);
  }
}
