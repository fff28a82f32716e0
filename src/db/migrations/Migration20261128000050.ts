import { Migration } from '@mikro-orm/migrations';

/** A text or a letter that is told to each before or after a voicemail: a broadcast that belongs to another. */
export class Migration20261128000050 extends Migration {
  override up(): void {
    for (const sql of [
      `alter table broadcast add column companion jsonb, add column companion_of text,
         add foreign key (workspace_id, companion_of) references broadcast (workspace_id, id) on delete cascade`,
      `create unique index broadcast_companion on broadcast (companion_of) where companion_of is not null`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`alter table broadcast drop column companion_of, drop column companion`);
  }
}
