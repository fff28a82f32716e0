import { Migration } from '@mikro-orm/migrations';

/** Sequences tried on oneself, tasks told by e-mail and by a calendar that is followed. */
export class Migration20261126000013 extends Migration {
  override up(): void {
    for (const statement of [...TRIALS, ...TEAMMATES]) this.addSql(statement);
  }

  override down(): void {
    for (const statement of BACK) this.addSql(statement);
  }
}

const TRIALS = [
  // A teammate's own number: `number` is proved; `asked` waits for the code that was sent to it.
  `create table own_number (
     workspace_id text not null references workspace, account_id text not null references account, number text, proved_at timestamptz,
     asked text, code_hash text, asked_at timestamptz, tries integer not null default 0, codes integer not null default 0,
     codes_since timestamptz, primary key (workspace_id, account_id))`,
  // Outside all counts: its messages belong to no send. \`reached\` is the instant of the sequence it has come to.
  `create table trial (
     id text primary key, workspace_id text not null references workspace, sequence_id text not null references sequence,
     account_id text not null references account, person_id text not null references person, document jsonb not null,
     enrolment jsonb not null, log jsonb not null default '[]', began_at timestamptz not null, day_ms integer not null check (day_ms > 0),
     reached timestamptz not null, message_id text, look_at timestamptz, ended_at timestamptz, ended_why text,
     check (ended_at is null or look_at is null))`,
  `create index trial_look on trial (look_at) where look_at is not null`,
  `create unique index trial_open on trial (sequence_id, account_id) where ended_at is null`,
  `create index trial_person on trial (person_id) where ended_at is null`,
];

const TEAMMATES = [
  // Whether tasks are told by e-mail, and the key of the calendar that is followed; only its hash is kept.
  `alter table membership add column mail_tasks boolean not null default false, add column calendar_hash text`,
  `create unique index membership_calendar on membership (calendar_hash) where calendar_hash is not null`,
  // Letters to teammates: they are about work, never about consent, and belong to no program.
  `create table teammate_mail (
     id text primary key, workspace_id text not null references workspace, account_id text not null references account,
     subject text not null, body text not null, created_at timestamptz not null, sent_at timestamptz)`,
  `create index teammate_mail_waits on teammate_mail (created_at) where sent_at is null`,
];

const BACK = [
  `drop table teammate_mail`,
  `alter table membership drop column mail_tasks, drop column calendar_hash`,
  `drop table trial, own_number`,
  // What was tried was sent: it stays as answers that belong to no send.
  `update message set kind = 'answer', priority = 1 where kind = 'trial'`,
];
