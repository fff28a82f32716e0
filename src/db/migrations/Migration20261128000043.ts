import { Migration } from '@mikro-orm/migrations';

/** Broadcasts that are sent by hand: stacks, whose each is, and what was pressed. */
export class Migration20261128000043 extends Migration {
  override up(): void {
    for (const sql of [
      // account_id: a teammate; null: somebody who was invited for this alone, by a link of which the hash is kept. takes: how many they take at once; null: what they were given.
      `create table stack (
         id text primary key, workspace_id text not null references workspace, send_id text not null, account_id text references account, name text not null, key_hash text unique,
         key_ends_at timestamptz, sees_numbers boolean not null default false, takes integer, heard_at timestamptz, ended_at timestamptz, created_by text references account,
         created_at timestamptz not null, unique (workspace_id, id))`,
      `create index stack_send on stack (workspace_id, send_id)`,
      `create unique index stack_account on stack (send_id, account_id) where account_id is not null and ended_at is null`,
      // One for each message that is pressed by hand. stack_id: null: nobody’s yet. pressed_by: the stack it was pressed from.
      `create table stack_row (
         message_id text primary key, workspace_id text not null, send_id text not null, stack_id text, rank integer not null, pressed_at timestamptz, pressed_by text,
         adapted boolean not null default false, skipped_at timestamptz, skipped_why text, foreign key (workspace_id, stack_id) references stack (workspace_id, id))`,
      `create index stack_row_next on stack_row (workspace_id, stack_id, rank) where pressed_at is null and skipped_at is null`,
      `create index stack_row_send on stack_row (workspace_id, send_id, rank)`,
      // Asked of teammates beside a thread, and noted on the person.
      `alter table field add column noted boolean not null default false`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    this.addSql(`drop table stack_row, stack`);
    this.addSql(`alter table field drop column noted`);
    this.addSql(
      `update broadcast set timing = jsonb_set(timing, '{pace}', 'null') where jsonb_exists(timing -> 'pace', 'hands')`,
    );
  }
}
