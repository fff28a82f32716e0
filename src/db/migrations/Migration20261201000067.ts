import { Migration } from '@mikro-orm/migrations';

/** The table of a web page and a workbook as XML are lists of people too: many programs call them workbooks. */
export class Migration20261201000067 extends Migration {
  override up(): void {
    this.addSql(`alter table import drop constraint import_format_check,
      add constraint import_format_check check (format in ('csv', 'xlsx', 'ods', 'xls', 'xml', 'html', 'vcard'))`);
  }

  override down(): void {
    this.addSql(`delete from import where format in ('xml', 'html')`);
    this.addSql(`alter table import drop constraint import_format_check,
      add constraint import_format_check check (format in ('csv', 'xlsx', 'ods', 'xls', 'vcard'))`);
  }
}
