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
    // What only an e-mail knows. The token names it to the outside: in its id, its return path and the way to leave.
    this.addSql(`create table mail (
       message_id text primary key, workspace_id text not null references workspace, token text not null unique, subject text not null, answers text)`);
    this.addSql(`create table mail_link (
       code text primary key, workspace_id text not null references workspace, message_id text not null, url text not null, unique (message_id, url))`);
    // What people write comes by any channel; an e-mail comes to no sender number.
    this.addSql(`alter table inbound_text alter sender_id drop not null, add column channel text not null default 'sms' check (channel in ('sms', 'email')),
       add column subject text, add constraint inbound_text_to check (channel <> 'sms' or sender_id is not null)`);
    this.addSql(`alter table inbound_text alter channel drop default`);
    this.addSql(`alter table inbound_text drop constraint inbound_text_meaning_check,
       add constraint inbound_text_meaning_check check (meaning in ('opt-out', 'opt-in', 'help', 'keyword', 'unclear', 'reply', 'automatic'))`);
    this.addSql(TELL_INBOUND(`where meaning <> 'automatic'`));
    this.addSql(
      `create index message_mail_open on message (submitted_at) where channel = 'email' and state = 'submitted'`,
    );
    this.addSql(
      `create unique index inbound_mail on inbound_text (workspace_id, carrier_id) where channel = 'email'`,
    );
  }

  override down(): void {
    this.addSql(`delete from inbound_text where channel <> 'sms'`);
    this.addSql(`drop index inbound_mail`);
    this.addSql(`drop index message_mail_open`);
    this.addSql(TELL_INBOUND(''));
    this.addSql(`alter table inbound_text drop constraint inbound_text_meaning_check,
       add constraint inbound_text_meaning_check check (meaning in ('opt-out', 'opt-in', 'help', 'keyword', 'unclear', 'reply'))`);
    this.addSql(
      `alter table inbound_text drop constraint inbound_text_to, drop column channel, drop column subject, alter sender_id set not null`,
    );
    this.addSql(`drop table mail_link, mail`);
    this.addSql(`select set_config('wren.erasing', 'on', true)`);
    for (const [table, column] of [
      ['message_event', 'message_id'],
      ['text_part', 'text_id'],
      ['engagement', 'text_id'],
    ])
      this.addSql(`delete from ${table} where ${column} in (select id from message where channel = 'email')`);
    this.addSql(`select set_config('wren.erasing', 'off', true)`);
    this.addSql(`delete from message where channel = 'email'`);
    this.addSql(`delete from broadcast where channel <> 'sms'`);
    this.addSql(`alter table broadcast drop column channel, drop column subject`);
    this.addSql(
      `alter table workspace drop column mail_from, drop column mail_name, drop column postal_address`,
    );
  }
}

/** What a machine answered by itself is no reply. */
const TELL_INBOUND = (which: string): string =>
  `create or replace function tell_inbound() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, subject, detail, at)
         select workspace_id, person_id, 'reply.received', id, jsonb_strip_nulls(jsonb_build_object('meaning', meaning, 'keyword', keyword, 'after', after_text_id)), at from fresh ${which};
       end if;
       return null;
     end $$`;
