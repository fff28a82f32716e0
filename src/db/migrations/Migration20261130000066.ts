import { Migration } from '@mikro-orm/migrations';

/** Which day was looked at for beginnings by a date is each sequence's own: one that cannot begin holds up no other. */
export class Migration20261130000066 extends Migration {
  override up(): void {
    this.addSql(`alter table sequence add column dates_on date`);
    this.addSql(
      `update sequence s set dates_on = d.day from sequence_date_look d where d.workspace_id = s.workspace_id`,
    );
    this.addSql(`drop table sequence_date_look`);
  }

  override down(): void {
    this.addSql(
      `create table sequence_date_look (workspace_id text primary key references workspace, day date not null)`,
    );
    this.addSql(
      `insert into sequence_date_look select workspace_id, min(dates_on) from sequence where dates_on is not null group by 1`,
    );
    this.addSql(`alter table sequence drop column dates_on`);
  }
}
