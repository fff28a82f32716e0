import { Migration } from '@mikro-orm/migrations';

/** What somebody sends by a form may be an inquiry of a source too. */
export class Migration20261129000055 extends Migration {
  override up(): void {
    this.addSql(
      `alter table form add column source_id text, add foreign key (workspace_id, source_id) references source (workspace_id, id)`,
    );
  }

  override down(): void {
    this.addSql(`alter table form drop column source_id`);
  }
}
