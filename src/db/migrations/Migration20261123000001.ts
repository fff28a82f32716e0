import { Migration } from '@mikro-orm/migrations';

/**
 * The first schema. Every table of a workspace has `workspace_id`, and rows point at each other through
 * (workspace_id, id), so that the database itself refuses a row that reaches into another workspace.
 */
export class Migration20261123000001 extends Migration {
  override up(): void {
    for (const statement of [...HOUSE, ...PEOPLE, ...SENDING, ...RECEIVING, ...LEDGERS, ...APPEND_ONLY])
      this.addSql(statement);
  }

  override down(): void {
    for (const table of TABLES) this.addSql(`drop table if exists "${table}" cascade`);
    this.addSql(`drop function refuse_change()`);
  }
}

const HOUSE = [
  `create table workspace (
     id text primary key, slug text not null unique, name text not null, business text not null, contact text not null,
     country text not null default 'US', zone text not null, weekly_cap integer, credits_per_part integer not null default 1,
     credit_balance bigint not null default 0, rules jsonb, created_at timestamptz not null)`,
  `create table account (
     id text primary key, email text not null, name text not null, password_hash text not null, created_at timestamptz not null)`,
  `create unique index account_email on account (lower(email))`,
  `create table membership (
     workspace_id text not null references workspace, account_id text not null references account, role text not null
       check (role in ('owner', 'manager', 'teammate', 'counter')), primary key (workspace_id, account_id))`,
  `create table session (
     id text primary key, account_id text not null references account, workspace_id text not null references workspace,
     user_agent text not null, created_at timestamptz not null, expires_at timestamptz not null)`,
  `create index session_account on session (account_id)`,
  `create table sign_in_try (key text primary key, tries integer not null, since timestamptz not null)`,
  `create table api_key (
     id text primary key, workspace_id text not null references workspace, name text not null, hash text not null unique,
     hint text not null, created_at timestamptz not null, last_used_at timestamptz, revoked_at timestamptz)`,
];

const PEOPLE = [
  `create table person (
     id text primary key, workspace_id text not null references workspace, number text not null, first_name text, last_name text,
     email text, region text, postal_code text, zone text, line_type text not null default 'unknown'
       check (line_type in ('mobile', 'landline', 'voip', 'unknown')),
     number_state text not null default 'in-service' check (number_state in ('in-service', 'gone')),
     unreachable_count integer not null default 0, fields jsonb not null default '{}', source text not null,
     unclear_since timestamptz, stopped_at timestamptz, last_wrote_at timestamptz, waiting_since timestamptz,
     created_at timestamptz not null, unique (workspace_id, number), unique (workspace_id, id))`,
  `create index person_page on person (workspace_id, id)`,
  `create index person_waiting on person (workspace_id, waiting_since) where waiting_since is not null`,
  `create table sender_number (
     id text primary key, workspace_id text not null references workspace, number text not null unique,
     kind text not null check (kind in ('local', 'toll-free', 'short-code')), sms boolean not null default true,
     voice boolean not null default false, registration text not null
       check (registration in ('registered', 'in-review', 'question', 'refused', 'none')),
     registration_note text, parts_per_second double precision not null check (parts_per_second > 0), daily_cap integer,
     next_free_at timestamptz not null, throttled_in_a_row integer not null default 0,
     created_at timestamptz not null, unique (workspace_id, id))`,
  `create table program (
     id text primary key, workspace_id text not null references workspace, name text not null, purpose text not null
       check (purpose in ('marketing', 'recurring', 'utility', 'inquiry')),
     promise_count integer check (promise_count > 0), promise_period text not null default 'month' check (promise_period in ('week', 'month')),
     welcome text not null default '', double_opt_in boolean not null default false, own_hours jsonb,
     archived_at timestamptz, created_at timestamptz not null, unique (workspace_id, id))`,
  `create unique index program_name on program (workspace_id, lower(name))`,
  `create table program_sender (
     workspace_id text not null, program_id text not null, sender_id text not null, primary key (program_id, sender_id),
     foreign key (workspace_id, program_id) references program (workspace_id, id),
     foreign key (workspace_id, sender_id) references sender_number (workspace_id, id))`,
  `create table keyword (
     id text primary key, workspace_id text not null references workspace, program_id text not null, word text not null,
     created_at timestamptz not null, unique (workspace_id, word),
     foreign key (workspace_id, program_id) references program (workspace_id, id))`,
  `create table sender_assignment (
     workspace_id text not null, person_id text not null, program_id text not null, sender_id text not null,
     primary key (person_id, program_id), foreign key (workspace_id, person_id) references person (workspace_id, id),
     foreign key (workspace_id, sender_id) references sender_number (workspace_id, id))`,
];

const SENDING = [
  `create table broadcast (
     id text primary key, workspace_id text not null references workspace, program_id text not null, name text not null,
     body text not null, state text not null check (state in
       ('draft', 'scheduled', 'preparing', 'sending', 'paused', 'stopped', 'finished')),
     send_at timestamptz, begun_at timestamptz, finished_at timestamptz, cursor text not null default '',
     created_by text references account, created_at timestamptz not null, updated_at timestamptz not null,
     unique (workspace_id, id), foreign key (workspace_id, program_id) references program (workspace_id, id))`,
  `create index broadcast_due on broadcast (send_at) where state = 'scheduled'`,
  `create index broadcast_page on broadcast (workspace_id, id desc)`,
  `create table text (
     id text primary key, workspace_id text not null, person_id text not null, program_id text not null, broadcast_id text,
     in_reply_to text, kind text not null check (kind in
       ('broadcast', 'confirmation', 'question', 'opt-out-confirmation', 'help', 'answer')),
     number text not null, sender_id text, body text not null, body_hash text not null,
     alphabet text not null check (alphabet in ('GSM-7', 'UCS-2')), parts smallint not null, credits integer not null,
     state text not null check (state in ('queued', 'submitting', 'submitted', 'delivered', 'failed', 'unconfirmed', 'blocked', 'cancelled')),
     priority smallint not null, not_before timestamptz not null, worker integer, attempts smallint not null default 0,
     reference integer, failure text, clearance jsonb, created_by text references account,
     created_at timestamptz not null, submitted_at timestamptz, settled_at timestamptz,
     unique (workspace_id, id), unique (broadcast_id, person_id),
     foreign key (workspace_id, person_id) references person (workspace_id, id),
     foreign key (workspace_id, broadcast_id) references broadcast (workspace_id, id)) with (fillfactor = 70)`,
  `create index text_due on text (sender_id, priority, not_before) where state = 'queued'`,
  `create index text_person on text (person_id, created_at desc)`,
  `create index text_open on text (state, worker) where state in ('submitting', 'unconfirmed')`,
  // A receipt whose carrier id was never stored finds its text by number.
  `create index text_unanswered on text (number) where state in ('submitting', 'unconfirmed')`,
  `create index text_recent on text (workspace_id, created_at desc)`,
  `create index text_same on text (person_id, body_hash)`,
  // Carrier ids are unique per carrier; a part exists from the moment the carrier took it.
  `create table text_part (
     text_id text not null, workspace_id text not null, index smallint not null, carrier_id text not null unique, state text not null
       check (state in ('accepted', 'delivered', 'failed')), stat text, err text, failure text, at timestamptz not null,
     primary key (text_id, index), foreign key (workspace_id, text_id) references text (workspace_id, id)) with (fillfactor = 70)`,
  // Receipts that came before the answer to their submit, kept until it does.
  `create table orphan_receipt (
     carrier_id text primary key, state text not null, stat text not null, err text not null, failure text, at timestamptz not null)`,
];

const RECEIVING = [
  `create table inbound_text (
     id text primary key, workspace_id text not null, person_id text not null, sender_id text not null, carrier_id text not null,
     body text not null, meaning text not null check (meaning in ('opt-out', 'opt-in', 'help', 'keyword', 'unclear', 'reply')),
     rule text not null, evidence text not null, keyword text, near_keyword text, after_text_id text, resolved_at timestamptz,
     at timestamptz not null, unique (workspace_id, id), unique (sender_id, carrier_id),
     foreign key (workspace_id, person_id) references person (workspace_id, id),
     foreign key (workspace_id, sender_id) references sender_number (workspace_id, id))`,
  `create index inbound_person on inbound_text (person_id, at desc)`,
  `create index inbound_after on inbound_text (after_text_id) where after_text_id is not null`,
  `create index inbound_recent on inbound_text (workspace_id, at desc)`,
  `create table inbound_part (
     from_number text not null, to_number text not null, reference integer not null, total smallint not null, index smallint not null,
     carrier_id text not null, body text not null, at timestamptz not null,
     primary key (from_number, to_number, reference, total, index))`,
  `create table worker (
     id integer generated always as identity primary key, started_at timestamptz not null, link_up_since timestamptz,
     link_state text not null default 'down')`,
];

const LEDGERS = [
  `create table consent_event (
     seq bigint generated always as identity, id text primary key, workspace_id text not null, person_id text not null, program_id text not null,
     channel text not null check (channel in ('sms', 'chat', 'voicemail', 'email')),
     kind text not null check (kind in ('asked', 'opted-in', 'opted-out', 'lapsed')), method text not null, evidence jsonb not null,
     at timestamptz not null, foreign key (workspace_id, person_id) references person (workspace_id, id),
     foreign key (workspace_id, program_id) references program (workspace_id, id))`,
  `create index consent_event_person on consent_event (person_id, seq)`,
  `create index consent_event_recent on consent_event (workspace_id, at desc)`,
  `create table consent_state (
     workspace_id text not null, person_id text not null, program_id text not null, channel text not null, state text not null
       check (state in ('asked', 'in', 'out', 'lapsed')), method text not null, since timestamptz not null, event_id text not null, was_in boolean not null,
     primary key (person_id, program_id, channel), foreign key (workspace_id, person_id) references person (workspace_id, id),
     foreign key (workspace_id, program_id) references program (workspace_id, id))`,
  `create index consent_state_program on consent_state (workspace_id, program_id, channel, state, person_id)`,
  `create table text_event (
     id bigint generated always as identity primary key, workspace_id text not null, text_id text not null, event text not null,
     detail text, at timestamptz not null)`,
  `create index text_event_text on text_event (text_id, id)`,
  `create table credit_entry (
     id bigint generated always as identity primary key, workspace_id text not null references workspace, delta integer not null,
     reason text not null, texts integer not null default 0, at timestamptz not null)`,
  `create index credit_entry_workspace on credit_entry (workspace_id, id)`,
  `create table audit_entry (
     id bigint generated always as identity primary key, workspace_id text not null references workspace, actor text not null,
     action text not null, subject text not null, detail jsonb not null default '{}', at timestamptz not null)`,
  `create index audit_entry_workspace on audit_entry (workspace_id, id)`,
];

/** A ledger is only ever added to: the database refuses anything else. */
const APPEND_ONLY = [
  `create function refuse_change() returns trigger language plpgsql as $$
     begin raise exception 'the ledger % is append-only', tg_table_name; end $$`,
  ...['consent_event', 'text_event', 'credit_entry', 'audit_entry'].map(
    (table) =>
      `create trigger append_only before update or delete on ${table} for each row execute function refuse_change()`,
  ),
];

const TABLES = [
  ...[
    'audit_entry',
    'credit_entry',
    'text_event',
    'consent_state',
    'consent_event',
    'worker',
    'inbound_part',
    'inbound_text',
  ],
  ...[
    'orphan_receipt',
    'text_part',
    'text',
    'broadcast',
    'sender_assignment',
    'keyword',
    'program_sender',
    'program',
  ],
  ...['sender_number', 'person', 'api_key', 'sign_in_try', 'session', 'membership', 'account', 'workspace'],
];
