import { Migration } from '@mikro-orm/migrations';

/** A second factor: codes of an app, and codes on paper for when it is lost. */
export class Migration20261127000037 extends Migration {
  override up(): void {
    for (const sql of [
      // `last_step`: no code counts twice. `confirmed_at` null: it was shown, and no code of it was given yet.
      `create table second_factor (
         account_id text primary key references account on delete cascade, secret text not null, made_at timestamptz not null,
         confirmed_at timestamptz, last_step bigint not null default 0)`,
      `create table recovery_code (
         account_id text not null references account on delete cascade, hash text not null, used_at timestamptz, primary key (account_id, hash))`,
      `alter table workspace add column owners_need_factor boolean not null default false`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`alter table workspace drop column owners_need_factor`);
    this.addSql(`drop table recovery_code, second_factor`);
  }
}
