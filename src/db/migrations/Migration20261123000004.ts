import { Migration } from '@mikro-orm/migrations';

/**
 * A text changes its state three times on its way to a phone, and each change writes every index of the table
 * again: half of what delivery asks of the database. So an index that nothing asks for goes, and a person's
 * texts are found by workspace and person together: one row, whatever the planner knows of a table that just fills.
 */
export class Migration20261123000004 extends Migration {
  override up(): void {
    // What left since a moment is asked program by program (text_program); nothing asks what was written since.
    this.addSql(`drop index text_recent`);
    // A person has few texts: the same wording is found among them.
    this.addSql(`drop index text_same`);
    this.addSql(`drop index text_person`);
    this.addSql(`create index text_person on text (workspace_id, person_id, created_at desc)`);
    // Whether a broadcast has anything left is asked twice a second.
    this.addSql(
      `create index text_left on text (broadcast_id) where broadcast_id is not null and state in ('queued', 'submitting')`,
    );
    this.addSql(`drop index text_event_text`);
    this.addSql(`alter table text_event drop constraint text_event_pkey, add primary key (text_id, id)`);
  }

  override down(): void {
    this.addSql(`alter table text_event drop constraint text_event_pkey, add primary key (id)`);
    this.addSql(`create index text_event_text on text_event (text_id, id)`);
    this.addSql(`drop index text_left`);
    this.addSql(`drop index text_person`);
    this.addSql(`create index text_person on text (person_id, created_at desc)`);
    this.addSql(`create index text_same on text (person_id, body_hash)`);
    this.addSql(`create index text_recent on text (workspace_id, created_at desc)`);
  }
}
