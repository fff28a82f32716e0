import { Migration } from '@mikro-orm/migrations';

/** The chat channel: accounts at a network, templates with their reviews, windows, and what only a chat message knows. */
export class Migration20261128000040 extends Migration {
  override up(): void {
    for (const sql of [
      // account: what the network calls it. door_key: in the address it calls us back at.
      `create table chat_account (
         id text primary key, workspace_id text not null references workspace, name text not null, url text not null, account text not null, token text not null,
         door_key text not null unique, secret text not null, address text not null default '', state text not null default 'closed'
           check (state in ('open', 'restricted', 'closed')),
         missing text[] not null default '{}', quality text not null default 'good', begin_limit integer, limits jsonb not null, prices jsonb not null,
         checked_at timestamptz, trouble text, due_at timestamptz, removed_at timestamptz, created_by text references account, created_at timestamptz not null,
         unique (workspace_id, id))`,
      `create unique index chat_account_known on chat_account (workspace_id, url, account) where removed_at is null`,
      `create table chat_template (
         id text primary key, workspace_id text not null references workspace, account_id text not null, name text not null, category text not null
           check (category in ('marketing', 'utility', 'authentication')),
         archived_at timestamptz, created_by text references account, created_at timestamptz not null, unique (workspace_id, id),
         foreign key (workspace_id, account_id) references chat_account (workspace_id, id))`,
      `create unique index chat_template_name on chat_template (account_id, name) where archived_at is null`,
      // One row for each version in each language; network_id: what the network calls it since it was handed in.
      `create table chat_wording (
         id text primary key, workspace_id text not null, template_id text not null, language text not null, version integer not null,
         words jsonb not null, samples jsonb not null, state text not null default 'draft'
           check (state in ('draft', 'in-review', 'approved', 'refused', 'paused', 'withdrawn')),
         reason text, network_id text, handed_in_at timestamptz, decided_at timestamptz, due_at timestamptz, stamp integer not null default 0,
         created_by text references account, created_at timestamptz not null,
         unique (template_id, language, version), unique (workspace_id, id),
         foreign key (workspace_id, template_id) references chat_template (workspace_id, id) on delete cascade)`,
      `create index chat_wording_due on chat_wording (due_at) where due_at is not null`,
      `create index chat_wording_network on chat_wording (workspace_id, network_id) where network_id is not null`,
      `create table chat_review (
         id bigint generated always as identity primary key, workspace_id text not null, wording_id text not null, event text not null, reason text, at timestamptz not null,
         foreign key (workspace_id, wording_id) references chat_wording (workspace_id, id) on delete cascade)`,
      `create index chat_review_wording on chat_review (wording_id, at)`,
      // wrote_at opens the window; begun_at: when we last began a conversation.
      `create table chat_window (
         workspace_id text not null, account_id text not null, address text not null, wrote_at timestamptz, begun_at timestamptz,
         primary key (account_id, address), foreign key (workspace_id, account_id) references chat_account (workspace_id, id))`,
      `create index chat_window_begun on chat_window (account_id, begun_at) where begun_at is not null`,
      // What only a chat message knows, beside the message.
      `create table chat (
         message_id text primary key, workspace_id text not null, account_id text not null, wording_id text, category text not null,
         filled jsonb, read_at timestamptz, foreign key (workspace_id, account_id) references chat_account (workspace_id, id))`,
      `create index chat_wording_used on chat (wording_id) where wording_id is not null`,
      `create index chat_account_due on chat_account (due_at) where due_at is not null`,
      // What a network told us: known by its id, so that it counts once, and worked on one after the other. leaves: it may be an
      // opt-out, which need not wait for what came before it. content: null once it was worked on.
      `create table chat_told (
         id text primary key, workspace_id text not null, account_id text not null, event_id text not null, who text not null default '', leaves boolean not null,
         content jsonb, at timestamptz not null, due_at timestamptz, unique (account_id, event_id),
         foreign key (workspace_id, account_id) references chat_account (workspace_id, id))`,
      `create index chat_told_due on chat_told (due_at) where due_at is not null`,
      `create index chat_told_who on chat_told (workspace_id, who) where due_at is not null`,
      `create index chat_told_at on chat_told (at)`,
      `alter table person add column language text`,
      copyAddresses(`x.rank > 0 or x.kind = 'chat'`),
      `alter table broadcast drop constraint broadcast_channel_check, add constraint broadcast_channel_check check (channel in ('sms', 'email', 'chat')),
         add column chat_template_id text`,
      `alter table inbound_text drop constraint inbound_text_channel_check, add constraint inbound_text_channel_check check (channel in ('sms', 'email', 'chat')),
         add column chat_account_id text, add column button text`,
      `create unique index inbound_chat on inbound_text (chat_account_id, carrier_id) where chat_account_id is not null`,
      `create index message_chat_open on message (submitted_at) where channel = 'chat' and state = 'submitted'`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `drop index message_chat_open`,
      copyAddresses(`x.rank > 0`),
      `select set_config('wren.erasing', 'on', true)`,
      ...[
        ['message_event', 'message_id'],
        ['text_part', 'text_id'],
        ['engagement', 'text_id'],
      ].map(
        ([table, column]) =>
          `delete from ${table} where ${column} in (select id from message where channel = 'chat')`,
      ),
      `delete from consent_state where channel = 'chat'`,
      `delete from consent_event where channel = 'chat'`,
      `select set_config('wren.erasing', 'off', true)`,
      `delete from message where channel = 'chat'`,
      `delete from inbound_text where channel = 'chat'`,
      `delete from broadcast where channel = 'chat'`,
      `alter table inbound_text drop column chat_account_id, drop column button, drop constraint inbound_text_channel_check,
         add constraint inbound_text_channel_check check (channel in ('sms', 'email'))`,
      `alter table broadcast drop column chat_template_id, drop constraint broadcast_channel_check,
         add constraint broadcast_channel_check check (channel in ('sms', 'email'))`,
      `alter table person drop column language`,
      `drop table chat_told, chat, chat_window, chat_review, chat_wording, chat_template, chat_account`,
    ])
      this.addSql(sql);
  }
}

/** As migration 9 has it. A chat id has no column of its own in the row of its person: it stands among the further addresses. */
const copyAddresses = (
  further: string,
) => `create or replace function copy_addresses() returns trigger language plpgsql as $$
     begin
       if pg_trigger_depth() > 1 then return null; end if;
       update person p set number = a.number, email = a.email, line_type = coalesce(a.line_type, 'unknown'), number_state = coalesce(a.number_state, 'in-service'),
              email_state = coalesce(a.email_state, 'in-service'), further = a.further
         from (select t.person_id, max(x.value) filter (where x.kind = 'number' and x.rank = 0) as number, max(x.value) filter (where x.kind = 'email' and x.rank = 0) as email,
                      max(x.line_type) filter (where x.kind = 'number' and x.rank = 0) as line_type, max(x.state) filter (where x.kind = 'number' and x.rank = 0) as number_state,
                      max(x.state) filter (where x.kind = 'email' and x.rank = 0) as email_state, array_agg(x.value order by x.kind, x.rank) filter (where ${further}) as further
                 from (select distinct person_id from touched) t left join address x on x.person_id = t.person_id group by 1) a
        where p.id = a.person_id and (p.number, p.email, p.line_type, p.number_state, p.email_state, p.further) is distinct from
              (a.number, a.email, coalesce(a.line_type, 'unknown'), coalesce(a.number_state, 'in-service'), coalesce(a.email_state, 'in-service'), a.further);
       return null;
     end $$`;
