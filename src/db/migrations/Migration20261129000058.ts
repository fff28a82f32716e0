import { Migration } from '@mikro-orm/migrations';

/** A row of a file may know somebody by their chat id alone. */
export class Migration20261129000058 extends Migration {
  override up(): void {
    this.addSql(`alter table import_row add column chat text`);
    this.addSql(`create index import_row_chat on import_row (import_id, chat) where chat is not null`);
  }

  override down(): void {
    this.addSql(`drop index import_row_chat`);
    this.addSql(`alter table import_row drop column chat`);
  }
}
