import { Migration } from '@mikro-orm/migrations';

/** Inquiries: sources, what came through them, and who has it. */
export class Migration20261127000038 extends Migration {
  override up(): void {
    for (const sql of [
      // key: in its address, and in that of its mailbox; the one before it counts until it ends. Secrets likewise.
      `create table source (
         id text primary key, workspace_id text not null references workspace, name text not null, program_id text not null,
         key text not null unique, old_key text unique, old_key_until timestamptz, secret text, old_secret text, old_secret_until timestamptz,
         signs text not null default 'nothing' check (signs in ('nothing', 'standard', 'header')), sign_header text,
         mapping jsonb not null, assignment jsonb not null, wording text, cost_cents integer, last_account_id text references account,
         closed_at timestamptz, stamp integer not null default 0, created_by text references account, created_at timestamptz not null,
         unique (workspace_id, id), foreign key (workspace_id, program_id) references program (workspace_id, id))`,
      `create unique index source_name on source (workspace_id, lower(name))`,
      `create table source_label (
         workspace_id text not null, source_id text not null, label_id text not null, primary key (source_id, label_id),
         foreign key (workspace_id, source_id) references source (workspace_id, id) on delete cascade,
         foreign key (workspace_id, label_id) references label (workspace_id, id) on delete cascade)`,
      // kind: empty for all of them.
      `create table source_sequence (
         workspace_id text not null, source_id text not null, kind text not null default '', sequence_id text not null,
         primary key (source_id, kind, sequence_id),
         foreign key (workspace_id, source_id) references source (workspace_id, id) on delete cascade,
         foreign key (workspace_id, sequence_id) references sequence (workspace_id, id) on delete cascade)`,
      // digest: the sender's id of the delivery, or the content with its day; what comes again is kept once.
      `create table arrival (
         id text primary key, workspace_id text not null, source_id text not null, format text not null, content jsonb not null, digest text not null,
         state text not null check (state in ('received', 'taken', 'unread', 'known', 'dropped')), because text, inquiry_id text,
         at timestamptz not null, settled_at timestamptz, due_at timestamptz,
         unique (source_id, digest), unique (workspace_id, id), foreign key (workspace_id, source_id) references source (workspace_id, id))`,
      `create index arrival_due on arrival (due_at) where due_at is not null`,
      `create index arrival_source on arrival (source_id, at desc)`,
      `create index arrival_unread on arrival (workspace_id, at) where state = 'unread'`,
      `create table inquiry (
         id text primary key, workspace_id text not null, source_id text not null, arrival_id text, person_id text not null, kind text not null, words text not null,
         sender_id text, told text[] not null default '{}', account_id text references account, because text not null, twin_of text, held text,
         at timestamptz not null, unique (workspace_id, id),
         foreign key (workspace_id, source_id) references source (workspace_id, id), foreign key (workspace_id, person_id) references person (workspace_id, id))`,
      `create index inquiry_person on inquiry (person_id, at desc)`,
      `create index inquiry_at on inquiry (workspace_id, at desc)`,
      `create unique index inquiry_sender on inquiry (source_id, sender_id) where sender_id is not null`,
      `create index inquiry_account on inquiry (account_id, at) where account_id is not null`,
      // What they asked last: kind, words and source, for the words of an answer.
      `alter table person add column asked jsonb`,
      `alter table membership add column duty jsonb not null default '[]', add column away_until timestamptz,
         add column mail_inquiries boolean not null default true`,
      tellConsent(`and evidence -> 'again' is null`),
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(tellConsent(''));
    this.addSql(
      `alter table membership drop column duty, drop column away_until, drop column mail_inquiries`,
    );
    this.addSql(`alter table person drop column asked`);
    this.addSql(`drop table inquiry, arrival, source_sequence, source_label, source`);
  }
}

/** Whoever inquires once more joins nothing anew. */
const tellConsent = (
  but: string,
) => `create or replace function tell_consent() returns trigger language plpgsql as $$
     begin
       if happening_begin() then
         insert into happening (workspace_id, person_id, kind, subject, detail, at)
         select workspace_id, person_id, case kind when 'opted-in' then 'program.joined' else 'program.left' end, program_id,
                jsonb_strip_nulls(jsonb_build_object('channel', channel, 'method', method, 'source', evidence -> 'source', 'keyword', case when method = 'keyword' then coalesce(evidence -> 'keyword', evidence -> 'said') end)), at
           from fresh where kind in ('opted-in', 'opted-out') ${but} order by seq;
       end if;
       return null;
     end $$`;
