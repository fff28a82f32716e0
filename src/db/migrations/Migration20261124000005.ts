import { Migration } from '@mikro-orm/migrations';

/**
 * What settles a text (an answer, a receipt) writes the row in place: no index may hold a column that it
 * changes. So what waits is told by its time, what was lost by when, and what a worker is sending stands, one row
 * for all that left in one go, in a table of its own.
 */
export class Migration20261124000005 extends Migration {
  override up(): void {
    this.addSql(`drop index text_due`);
    this.addSql(`drop index text_left`);
    this.addSql(`drop index text_open`);
    this.addSql(`drop index text_unanswered`);
    this.addSql(`alter table text alter not_before drop not null, add lost_at timestamptz`);
    this.addSql(`update text set not_before = null where state <> 'queued'`);
    this.addSql(
      `with moved as (update text set state = 'unconfirmed' where state = 'submitting' returning workspace_id, id)
       insert into text_event (workspace_id, text_id, event, detail, at) select workspace_id, id, 'lose', 'worker ended', now() from moved`,
    );
    this.addSql(`update text set lost_at = coalesce(submitted_at, created_at) where state = 'unconfirmed'`);
    this.addSql(
      `alter table text add constraint text_waits check ((state = 'queued') = (not_before is not null)),
         add constraint text_lost check ((state = 'unconfirmed') = (lost_at is not null))`,
    );
    this.addSql(`alter table text set (fillfactor = 50)`);
    this.addSql(
      `create index text_due on text (sender_id, priority, not_before) where not_before is not null`,
    );
    this.addSql(
      `create index text_left on text (broadcast_id) where broadcast_id is not null and not_before is not null`,
    );
    // A receipt whose carrier id was never stored finds its text by number.
    this.addSql(`create index text_lost_number on text (number) where lost_at is not null`);
    this.addSql(
      `create table departure (
         id bigint generated always as identity primary key, workspace_id text not null references workspace, worker integer not null,
         texts text[] not null, unanswered integer not null check (unanswered > 0), at timestamptz not null)`,
    );
  }

  override down(): void {
    this.addSql(`drop table departure`);
    this.addSql(`drop index text_lost_number`);
    this.addSql(`drop index text_left`);
    this.addSql(`drop index text_due`);
    this.addSql(
      `alter table text drop constraint text_waits, drop constraint text_lost, drop column lost_at`,
    );
    this.addSql(`update text set not_before = coalesce(submitted_at, created_at) where not_before is null`);
    this.addSql(`alter table text alter not_before set not null`);
    this.addSql(`alter table text set (fillfactor = 70)`);
    this.addSql(`create index text_unanswered on text (number) where state in ('submitting', 'unconfirmed')`);
    this.addSql(
      `create index text_open on text (state, worker) where state in ('submitting', 'unconfirmed')`,
    );
    this.addSql(
      `create index text_left on text (broadcast_id) where broadcast_id is not null and state in ('queued', 'submitting')`,
    );
    this.addSql(`create index text_due on text (sender_id, priority, not_before) where state = 'queued'`);
  }
}
