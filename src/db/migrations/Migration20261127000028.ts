import { Migration } from '@mikro-orm/migrations';

/** What goes by e-mail to who cannot be texted. */
export class Migration20261127000028 extends Migration {
  override up(): void {
    this.addSql(`alter table broadcast add column instead jsonb`);
  }

  override down(): void {
    this.addSql(`alter table broadcast drop column instead`);
  }
}
