import { Migration } from '@mikro-orm/migrations';

/** A source may demand whose letters count. */
export class Migration20261129000057 extends Migration {
  override up(): void {
    this.addSql(`alter table source add column letters_from text[] not null default '{}'`);
  }

  override down(): void {
    this.addSql(`alter table source drop column letters_from`);
  }
}
