import { Migration } from '@mikro-orm/migrations';

/** OpenDocument spreadsheets and old workbooks are spreadsheets too. */
export class Migration20261127000032 extends Migration {
  override up(): void {
    this.addSql(`alter table import drop constraint import_format_check,
      add constraint import_format_check check (format in ('csv', 'xlsx', 'ods', 'xls', 'vcard'))`);
  }

  override down(): void {
    this.addSql(`delete from import where format in ('ods', 'xls')`);
    this.addSql(`alter table import drop constraint import_format_check,
      add constraint import_format_check check (format in ('csv', 'xlsx', 'vcard'))`);
  }
}
