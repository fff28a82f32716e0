import { Migration } from '@mikro-orm/migrations';

/** What is learnt of people to whom a text was pressed, and what those who are invited to press answer and pass on. */
export class Migration20261128000053 extends Migration {
  override up(): void {
    for (const sql of [
      // `by`: what whoever noted it is called; of a guest there is no account.
      `create table learnt_fact (
         message_id text not null, workspace_id text not null, key text not null, value jsonb not null, account_id text references account, by text not null, at timestamptz not null,
         primary key (message_id, key), foreign key (message_id) references stack_row on delete cascade)`,
      `create table guest_answer (
         message_id text primary key, workspace_id text not null, stack_id text not null, foreign key (workspace_id, stack_id) references stack (workspace_id, id))`,
      `alter table stack_row add column passed_on_at timestamptz`,
      `create index thread_note_recent on thread_note (workspace_id, at desc)`,
      // What was answered last is looked through for words that stand nearly everywhere.
      `create index message_answers on message (workspace_id, created_at desc) where kind = 'answer'`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `drop index message_answers`,
      `drop index thread_note_recent`,
      `alter table stack_row drop column passed_on_at`,
      `drop table guest_answer`,
      `drop table learnt_fact`,
    ])
      this.addSql(sql);
  }
}
