import { Migration } from '@mikro-orm/migrations';

/** Letters to people who are invited and have no account yet; sender numbers that are given back. */
export class Migration20261126000015 extends Migration {
  override up(): void {
    this.addSql(
      `alter table teammate_mail alter column account_id drop not null, add column address text, add check ((account_id is null) <> (address is null))`,
    );
    // Nothing is sent from it any more; what people still write to it is heard.
    this.addSql(`alter table sender_number add column released_at timestamptz`);
  }

  override down(): void {
    this.addSql(`alter table sender_number drop column released_at`);
    this.addSql(`delete from teammate_mail where account_id is null`);
    this.addSql(`alter table teammate_mail drop column address, alter column account_id set not null`);
  }
}
