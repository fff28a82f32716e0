import { Migration } from '@mikro-orm/migrations';

const VERDICTS = `'add', 'update', 'same', 'invalid', 'duplicate', 'left-alone', 'opted-out', 'another-name'`;

/** A file may say of somebody that they left, or want no texts: that counts. */
export class Migration20261130000065 extends Migration {
  override up(): void {
    this.addSql(`alter table import_row drop constraint import_row_verdict_check,
      add constraint import_row_verdict_check check (verdict in (${VERDICTS}, 'left')),
      add column says_left boolean not null default false`);
  }

  override down(): void {
    this.addSql(`update import_row set verdict = 'opted-out' where verdict = 'left'`);
    this.addSql(`alter table import_row drop column says_left, drop constraint import_row_verdict_check,
      add constraint import_row_verdict_check check (verdict in (${VERDICTS}))`);
  }
}
