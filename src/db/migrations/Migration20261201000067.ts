import { Migration } from '@mikro-orm/migrations';

/** The table of a web page is a list of people too: many programs export one and call it a workbook. */
export class Migration20261201000067 extends Migration {
  override up(): void {
    this.addSql(`alter table import drop constraint import_format_check,
      add constraint import_format_check check (format in ('csv', 'xlsx', 'ods', 'xls', 'html', 'vcard'))`);
  }

  override down(): void {
    this.addSql(`delete from import where format = 'html'`);
    this.addSql(`alter table import drop constraint import_format_check,
      add constraint import_format_check check (format in ('csv', 'xlsx', 'ods', 'xls', 'vcard'))`);
  }
}
