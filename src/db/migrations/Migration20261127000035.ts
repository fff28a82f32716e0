import { Migration } from '@mikro-orm/migrations';

const VERDICTS = `'add', 'update', 'same', 'invalid', 'duplicate', 'left-alone', 'opted-out'`;

/** A row may be about somebody else than whoever has its number: that is asked, row by row. */
export class Migration20261127000035 extends Migration {
  override up(): void {
    this.addSql(`alter table import_row drop constraint import_row_verdict_check,
      add constraint import_row_verdict_check check (verdict in (${VERDICTS}, 'another-name')),
      add column choice text check (choice in ('take', 'leave'))`);
  }

  override down(): void {
    this.addSql(`update import_row set verdict = 'left-alone' where verdict = 'another-name'`);
    this.addSql(`alter table import_row drop column choice, drop constraint import_row_verdict_check,
      add constraint import_row_verdict_check check (verdict in (${VERDICTS}))`);
  }
}
