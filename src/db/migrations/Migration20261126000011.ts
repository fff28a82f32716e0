import { Migration } from '@mikro-orm/migrations';

/** How many people were in each segment, day by day: what changed since is told from it. */
export class Migration20261126000011 extends Migration {
  override up(): void {
    this.addSql(`create table segment_count (
       workspace_id text not null references workspace, segment_id text not null references segment on delete cascade, day date not null,
       version integer not null, people integer, primary key (segment_id, day))`);
  }

  override down(): void {
    this.addSql(`drop table segment_count`);
  }
}
