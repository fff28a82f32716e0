import { Migration } from '@mikro-orm/migrations';

/**
 * How many are in each program, as last counted. Only for workspaces whose consents are too many to be counted at each look;
 * `mark` is the number of the last happening before it was counted, by which one sees whether anything changed since.
 */
export class Migration20261129000062 extends Migration {
  override up(): void {
    this.addSql(`create table program_count (
       workspace_id text not null, program_id text not null, at timestamptz not null, took_ms integer not null, mark bigint not null,
       members integer not null, "left" integer not null, joined30 integer not null, left30 integer not null, sources jsonb not null,
       primary key (workspace_id, program_id), foreign key (workspace_id, program_id) references program (workspace_id, id) on delete cascade)`);
  }

  override down(): void {
    this.addSql(`drop table program_count`);
  }
}
