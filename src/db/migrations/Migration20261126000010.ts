import { Migration } from '@mikro-orm/migrations';

/** E-mail: who a workspace's mail is from, the postal address that stands under it, and broadcasts by another channel. */
export class Migration20261126000010 extends Migration {
  override up(): void {
    this.addSql(
      `alter table workspace add column mail_from text, add column mail_name text, add column postal_address text`,
    );
    this.addSql(
      `alter table broadcast add column channel text not null default 'sms' check (channel in ('sms', 'email')), add column subject text`,
    );
    this.addSql(`alter table broadcast alter channel drop default`);
  }

  override down(): void {
    this.addSql(`delete from broadcast where channel <> 'sms'`);
    this.addSql(`alter table broadcast drop column channel, drop column subject`);
    this.addSql(
      `alter table workspace drop column mail_from, drop column mail_name, drop column postal_address`,
    );
  }
}
