import { Migration } from '@mikro-orm/migrations';

const KEYWORDS = [
  `alter table keyword add column welcome text, add column valid_from timestamptz, add column valid_to timestamptz,
     add column before_words text not null default '', add column after_words text not null default '', add column offer_id text,
     add column stamp integer not null default 0, add unique (workspace_id, id),
     add foreign key (workspace_id, offer_id) references offer (workspace_id, id)`,
  `create table keyword_label (
     workspace_id text not null, keyword_id text not null, label_id text not null, primary key (keyword_id, label_id),
     foreign key (workspace_id, keyword_id) references keyword (workspace_id, id) on delete cascade,
     foreign key (workspace_id, label_id) references label (workspace_id, id) on delete cascade)`,
  `create table keyword_sequence (
     workspace_id text not null, keyword_id text not null, sequence_id text not null, primary key (keyword_id, sequence_id),
     foreign key (workspace_id, keyword_id) references keyword (workspace_id, id) on delete cascade,
     foreign key (workspace_id, sequence_id) references sequence (workspace_id, id) on delete cascade)`,
  // None: it is heard on every number.
  `create table keyword_sender (
     workspace_id text not null, keyword_id text not null, sender_id text not null, primary key (keyword_id, sender_id),
     foreign key (workspace_id, keyword_id) references keyword (workspace_id, id) on delete cascade,
     foreign key (workspace_id, sender_id) references sender_number (workspace_id, id) on delete cascade)`,
  // Other spellings that count.
  `create table keyword_spelling (
     workspace_id text not null, word text not null, keyword_id text not null, created_at timestamptz not null, primary key (workspace_id, word),
     foreign key (workspace_id, keyword_id) references keyword (workspace_id, id) on delete cascade)`,
  `create index inbound_near on inbound_text (workspace_id, at) where near_keyword is not null`,
  // Where a call to action sends whoever wants to read more.
  `alter table workspace add column asks_near_misses boolean not null default false, add column terms_url text, add column privacy_url text`,
];

const OFFERS = [
  // `days` count from when somebody received their voucher, as many as the offer had when it was given. `made` counts vouchers, so that there are never more than `most`.
  `create table offer (
     id text primary key, workspace_id text not null references workspace, name text not null, words text not null,
     days integer check (days > 0), uses integer not null default 1 check (uses > 0), most integer check (most > 0), made integer not null default 0,
     from_at timestamptz, to_at timestamptz, place text not null default '', archived_at timestamptz, stamp integer not null default 0,
     created_by text references account, created_at timestamptz not null, unique (workspace_id, id))`,
  `create unique index offer_name on offer (workspace_id, lower(name))`,
  `create table voucher (
     id text primary key, workspace_id text not null, offer_id text not null, person_id text not null, code text not null unique,
     ending text, days integer, message_id text, keyword text, made_at timestamptz not null, received_at timestamptz, expires_at timestamptz, told text check (told in ('expiring', 'expired')),
     opened_at timestamptz, uses_left integer not null check (uses_left >= 0), unique (workspace_id, id), unique (offer_id, person_id),
     foreign key (workspace_id, offer_id) references offer (workspace_id, id), foreign key (workspace_id, person_id) references person (workspace_id, id))`,
  `create index voucher_unreceived on voucher (message_id) where received_at is null`,
  `create index voucher_person on voucher (person_id)`,
  `create index voucher_ending on voucher (workspace_id, ending) where uses_left > 0`,
  `create index voucher_expires on voucher (expires_at) where expires_at is not null and told is distinct from 'expired'`,
  // The id is the press at the till: a press that is sent twice counts once. It counts for what follows from it once it
  // cannot be undone any more.
  `create table redemption (
     id text primary key, workspace_id text not null, voucher_id text not null, at timestamptz not null, account_id text references account,
     undone_at timestamptz, counted_at timestamptz, foreign key (workspace_id, voucher_id) references voucher (workspace_id, id) on delete cascade)`,
  `create index redemption_voucher on redemption (voucher_id)`,
  `create index redemption_uncounted on redemption (at) where counted_at is null and undone_at is null`,
  // What was typed at a till and is no voucher of ours.
  `create table wrong_code (
     id bigint generated always as identity primary key, workspace_id text not null references workspace, account_id text references account,
     typed text not null, at timestamptz not null)`,
  `create index wrong_code_at on wrong_code (workspace_id, at)`,
];

/** Joining by a keyword tells which one was meant, not what was typed. */
const tellConsent = (
  keyword: string,
) => `create or replace function tell_consent() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, subject, detail, at)
         select workspace_id, person_id, case kind when 'opted-in' then 'program.joined' else 'program.left' end, program_id,
                jsonb_strip_nulls(jsonb_build_object('channel', channel, 'method', method, 'source', evidence -> 'source', 'keyword', case when method = 'keyword' then ${keyword} end)), at
           from fresh where kind in ('opted-in', 'opted-out') order by seq;
       end if;
       return null;
     end $$`;

/** Keywords in full; offers with their vouchers, and what is used up at a counter. */
export class Migration20261126000016 extends Migration {
  override up(): void {
    for (const sql of [
      ...OFFERS,
      ...KEYWORDS,
      tellConsent(`coalesce(evidence -> 'keyword', evidence -> 'said')`),
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`update message set kind = 'answer' where kind in ('late-answer', 'notice')`);
    this.addSql(tellConsent(`evidence -> 'said'`));
    this.addSql(
      `alter table workspace drop column asks_near_misses, drop column terms_url, drop column privacy_url`,
    );
    this.addSql(`drop index inbound_near`);
    this.addSql(`drop table keyword_spelling, keyword_sender, keyword_sequence, keyword_label`);
    this.addSql(
      `alter table keyword drop column welcome, drop column valid_from, drop column valid_to, drop column before_words, drop column after_words,
         drop column offer_id, drop column stamp, drop constraint keyword_workspace_id_id_key`,
    );
    this.addSql(`drop table wrong_code, redemption, voucher, offer`);
  }
}
