import { Migration } from '@mikro-orm/migrations';

/** Posters of keywords and forms. */
export class Migration20261126000019 extends Migration {
  override up(): void {
    this.addSql(
      `create table poster (
         id text primary key, workspace_id text not null references workspace, keyword_id text, form_id text, document jsonb not null, stamp integer not null default 0,
         created_by text references account, created_at timestamptz not null, unique (workspace_id, id), check (num_nonnulls(keyword_id, form_id) = 1),
         foreign key (workspace_id, keyword_id) references keyword (workspace_id, id) on delete cascade,
         foreign key (workspace_id, form_id) references form (workspace_id, id) on delete cascade)`,
    );
    this.addSql(`create index poster_of on poster (workspace_id, keyword_id, form_id)`);
  }

  override down(): void {
    this.addSql(`drop table poster`);
  }
}
