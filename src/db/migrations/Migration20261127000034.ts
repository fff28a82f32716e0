import { Migration } from '@mikro-orm/migrations';

/** What somebody is writing and has neither sent nor kept: a closed page loses none of it. */
export class Migration20261127000034 extends Migration {
  override up(): void {
    this.addSql(`create table unfinished (
       workspace_id text not null references workspace, account_id text not null references account, place text not null, content text not null,
       at timestamptz not null, primary key (workspace_id, account_id, place))`);
  }

  override down(): void {
    this.addSql(`drop table unfinished`);
  }
}
