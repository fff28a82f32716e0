import { Migration } from '@mikro-orm/migrations';

/** A receipt that came before the answer to its submit waits for it with the reference it carries back. */
export class Migration20261128000054 extends Migration {
  override up(): void {
    this.addSql(`alter table orphan_receipt add column reference integer`);
  }

  override down(): void {
    this.addSql(`alter table orphan_receipt drop column reference`);
  }
}
