import { Migration } from '@mikro-orm/migrations';

/** Whoever wants to be told of threads that are given to them by e-mail, or by text, is. */
export class Migration20261128000051 extends Migration {
  override up(): void {
    this.addSql(
      `alter table membership add column mail_threads boolean not null default false, add column text_threads boolean not null default false`,
    );
  }

  override down(): void {
    this.addSql(`alter table membership drop column text_threads, drop column mail_threads`);
  }
}
