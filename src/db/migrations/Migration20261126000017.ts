import { Migration } from '@mikro-orm/migrations';

/** Questions by text after joining by a keyword, personal links, and the tasks that are left of them. */
export class Migration20261126000017 extends Migration {
  override up(): void {
    for (const sql of [
      `alter table inbound_text drop constraint inbound_text_meaning_check,
         add constraint inbound_text_meaning_check check (meaning in ('opt-out', 'opt-in', 'help', 'keyword', 'answer', 'unclear', 'reply', 'automatic'))`,
      // `questions` as in `core/question/fields.ts`. `link_days`: how long the personal link holds that follows on silence; null: none does.
      `alter table keyword add column questions jsonb not null default '[]', add column thanks text not null default '',
         add column link_days integer check (link_days > 0), add column task_after boolean not null default false`,
      // The questions as they stood when they joined; `at` is the place of the open one.
      `create table asking (
         id text primary key, workspace_id text not null, person_id text not null, keyword_id text, program_id text not null, sender_id text not null, address text not null,
         questions jsonb not null, thanks text not null, link_days integer, task_after boolean not null, at integer not null default 0, times integer not null default 1 check (times in (1, 2)),
         partial text, state text not null check (state in ('open', 'answered', 'linked', 'finished', 'handed', 'given-up', 'left')), due_at timestamptz,
         begun_at timestamptz not null, settled_at timestamptz, unique (workspace_id, id),
         foreign key (workspace_id, person_id) references person (workspace_id, id), foreign key (workspace_id, program_id) references program (workspace_id, id))`,
      `create unique index asking_open on asking (workspace_id, person_id) where state = 'open'`,
      `create index asking_person on asking (person_id)`,
      `create index asking_keyword on asking (workspace_id, keyword_id)`,
      `create index asking_due on asking (due_at) where due_at is not null`,
      `create table asking_step (
         asking_id text not null, place integer not null, workspace_id text not null, field text not null, asked_at timestamptz not null, again_at timestamptz,
         outcome text check (outcome in ('answered', 'skipped', 'unreadable', 'silent')), settled_at timestamptz, primary key (asking_id, place),
         foreign key (workspace_id, asking_id) references asking (workspace_id, id) on delete cascade)`,
      `create table personal_link (
         id text primary key, workspace_id text not null, person_id text not null, code text not null unique, fields jsonb not null, asking_id text,
         made_by text references account, made_at timestamptz not null, expires_at timestamptz not null, opened_at timestamptz, begun_at timestamptz, finished_at timestamptz,
         unique (workspace_id, id), foreign key (workspace_id, person_id) references person (workspace_id, id),
         foreign key (workspace_id, asking_id) references asking (workspace_id, id) on delete cascade)`,
      `create index personal_link_person on personal_link (person_id)`,
      `create index personal_link_asking on personal_link (asking_id)`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`update message set kind = 'answer' where kind in ('asking', 'asking-again')`);
    this.addSql(`update task set source = 'api' where source = 'question'`);
    this.addSql(`update inbound_text set meaning = 'reply' where meaning = 'answer'`);
    this.addSql(`alter table inbound_text drop constraint inbound_text_meaning_check,
       add constraint inbound_text_meaning_check check (meaning in ('opt-out', 'opt-in', 'help', 'keyword', 'unclear', 'reply', 'automatic'))`);
    this.addSql(`drop table personal_link, asking_step, asking`);
    this.addSql(
      `alter table keyword drop column questions, drop column thanks, drop column link_days, drop column task_after`,
    );
  }
}
