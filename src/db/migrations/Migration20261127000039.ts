import { Migration } from '@mikro-orm/migrations';

/** Inquiries are told by text to a teammate's own proved number, where they want that. */
export class Migration20261127000039 extends Migration {
  override up(): void {
    this.addSql(`alter table membership add column text_inquiries boolean not null default false`);
  }

  override down(): void {
    this.addSql(`update message set kind = 'trial' where kind = 'told'`);
    this.addSql(`alter table membership drop column text_inquiries`);
  }
}
