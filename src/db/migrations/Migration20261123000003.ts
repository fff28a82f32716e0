import { Migration } from '@mikro-orm/migrations';

/**
 * Indexes that serve conditions and sorts alike: places, sources and kinds of line are compared without case, so they
 * lie folded. Who is gone is few: everybody is counted in an index without looking at each row, and they are taken off.
 */
export class Migration20261123000003 extends Migration {
  override up(): void {
    for (const [name, column] of FOLDED) {
      this.addSql(`drop index ${name}`);
      this.addSql(`create index ${name} on person (workspace_id, lower(${column}), id)`);
    }
    this.addSql(
      `create index person_gone on person (workspace_id, id) where merged_into is not null or erased_at is not null`,
    );
    // With the workspace in the key a tag is asked for in the index alone.
    this.addSql(
      `alter table person_label drop constraint person_label_pkey, add primary key (workspace_id, label_id, person_id)`,
    );
    // The planner knows nothing of a folded column before it has looked.
    this.addSql(`analyze person`);
  }

  override down(): void {
    for (const [name, column] of FOLDED) {
      this.addSql(`drop index ${name}`);
      this.addSql(`create index ${name} on person (workspace_id, ${column}, id)`);
    }
    this.addSql(`drop index person_gone`);
    this.addSql(
      `alter table person_label drop constraint person_label_pkey, add primary key (label_id, person_id)`,
    );
  }
}

const FOLDED = [
  ['person_place', 'place_region'],
  ['person_source', 'source'],
  ['person_line', 'line_type'],
] as const;
