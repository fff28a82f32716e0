import { Migration } from '@mikro-orm/migrations';

/** How a workspace wants its wordings checked. */
export class Migration20261126000020 extends Migration {
  override up(): void {
    this.addSql(
      `alter table workspace add column wording jsonb not null default '{"kind": "general", "hosts": [], "weights": {}}'`,
    );
    // What was sent of a program within a month: every draft of it is compared.
    this.addSql(
      `create index broadcast_of_program on broadcast (workspace_id, program_id, send_at desc) where send_at is not null`,
    );
  }

  override down(): void {
    this.addSql(`drop index broadcast_of_program`);
    this.addSql(`alter table workspace drop column wording`);
  }
}
