import { Migration } from '@mikro-orm/migrations';

/** What whoever runs a broadcast by hand says to all who press it. */
export class Migration20261128000052 extends Migration {
  override up(): void {
    for (const sql of [
      `create table team_word (
         id text primary key, workspace_id text not null references workspace, send_id text not null, account_id text references account, body text not null, at timestamptz not null,
         foreign key (workspace_id, send_id) references broadcast (workspace_id, id) on delete cascade)`,
      `create index team_word_send on team_word (workspace_id, send_id, at)`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`drop table team_word`);
  }
}
