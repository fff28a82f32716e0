import { Migration } from '@mikro-orm/migrations';

/** A chat message in words of one's own may carry files, and what can be pressed under it. */
export class Migration20261129000056 extends Migration {
  override up(): void {
    this.addSql(`alter table chat add column buttons text[], add column media text[]`);
  }

  override down(): void {
    this.addSql(`alter table chat drop column buttons, drop column media`);
  }
}
