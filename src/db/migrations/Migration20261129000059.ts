import { Migration } from '@mikro-orm/migrations';

/** Numbers may be taken from several providers. */
export class Migration20261129000059 extends Migration {
  override up(): void {
    this.addSql(`drop index number_provider_one`);
    this.addSql(
      `create unique index number_provider_account on number_provider (workspace_id, url, account) where removed_at is null`,
    );
  }

  override down(): void {
    this.addSql(`drop index number_provider_account`);
    this.addSql(
      `create unique index number_provider_one on number_provider (workspace_id) where removed_at is null`,
    );
  }
}
