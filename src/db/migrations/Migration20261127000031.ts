import { Migration } from '@mikro-orm/migrations';

/**
 * A text of which no receipt came within its validity says so. And rows of `message` are written in place again (HOT, as
 * PostgreSQL calls it): an index that named `state` made every answer and every receipt write into all indexes of the table, of
 * 93,000 changes measured not one was in place. What is open is found by walking over the time instead.
 */
export class Migration20261127000031 extends Migration {
  override up(): void {
    this.addSql(`drop index message_mail_open`);
    this.addSql(
      `create index message_submitted on message using brin (submitted_at) with (pages_per_range = 32, autosummarize = on)`,
    );
    this.addSql(`alter table message drop constraint text_state_check, add constraint text_state_check check (state in
      ('queued', 'submitting', 'submitted', 'delivered', 'failed', 'no-receipt', 'unconfirmed', 'blocked', 'cancelled'))`);
    this.addSql(
      `create table receipts_awaited (channel text primary key, since timestamptz not null default '-infinity')`,
    );
    this.addSql(`insert into receipts_awaited (channel) values ('sms'), ('chat'), ('voicemail'), ('email')`);
  }

  override down(): void {
    this.addSql(`drop table receipts_awaited`);
    this.addSql(`update message set state = 'submitted', settled_at = null where state = 'no-receipt'`);
    this.addSql(`alter table message drop constraint text_state_check, add constraint text_state_check check (state in
      ('queued', 'submitting', 'submitted', 'delivered', 'failed', 'unconfirmed', 'blocked', 'cancelled'))`);
    this.addSql(`drop index message_submitted`);
    this.addSql(
      `create index message_mail_open on message (submitted_at) where channel = 'email' and state = 'submitted'`,
    );
  }
}
