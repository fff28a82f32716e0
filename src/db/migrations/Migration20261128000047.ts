import { Migration } from '@mikro-orm/migrations';

/** Numbers that are taken from a provider, and given back to it. */
export class Migration20261128000047 extends Migration {
  override up(): void {
    for (const sql of [
      `create table number_provider (
         id text primary key, workspace_id text not null references workspace on delete cascade, name text not null, url text not null, account text not null, token text not null,
         state text not null default 'closed' check (state in ('open', 'closed')), checked_at timestamptz, trouble text, due_at timestamptz, removed_at timestamptz,
         created_by text references account, created_at timestamptz not null)`,
      `create unique index number_provider_one on number_provider (workspace_id) where removed_at is null`,
      `create index number_provider_due on number_provider (due_at) where due_at is not null`,
      // programs: ids of those that are to write from it.
      `create table number_order (
         id text primary key, workspace_id text not null references workspace on delete cascade, provider_id text not null references number_provider on delete cascade, number text not null,
         what text not null check (what in ('take', 'give-back')), state text not null default 'asked' check (state in ('asked', 'done', 'refused')), reason text,
         programs jsonb not null default '[]', due_at timestamptz, done_at timestamptz, created_by text references account, created_at timestamptz not null)`,
      // A number is asked for once at a time.
      `create unique index number_order_open on number_order (workspace_id, number) where state = 'asked'`,
      `create index number_order_due on number_order (due_at) where due_at is not null`,
      `create index number_order_of on number_order (workspace_id, created_at desc)`,
      `alter table sender_number add column provider_id text references number_provider on delete set null, add column monthly_credits integer`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `alter table sender_number drop column provider_id, drop column monthly_credits`,
      `drop table number_order, number_provider`,
    ])
      this.addSql(sql);
  }
}
