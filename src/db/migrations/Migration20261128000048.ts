import { Migration } from '@mikro-orm/migrations';

/**
 * What credits came and went for, what messages cost by where they go, limits of a day, credits that are bought, and a number's
 * months; numbers that rest and come back, and those that are brought along from another provider.
 */
export class Migration20261128000048 extends Migration {
  override up(): void {
    for (const sql of [
      `alter table credit_entry add column kind text, add column channel text, add column program_id text, add column send_id text, add column subject text`,
      // Only ever added to: what is known of entries from before is told once, here.
      `alter table credit_entry disable trigger append_only`,
      `update credit_entry set kind = case reason when 'texts' then 'messages' when 'opening balance' then 'opening' else case when delta < 0 then 'corrected' else 'bought' end end`,
      `alter table credit_entry enable trigger append_only`,
      `alter table credit_entry alter column kind set not null,
         add check (kind in ('opening', 'bought', 'corrected', 'messages', 'returned', 'number-setup', 'number-month'))`,
      `create index credit_entry_day on credit_entry (workspace_id, at)`,
      `alter table workspace add column prices jsonb not null default '[]', add column daily_credits integer, add column enough_until timestamptz, add column credits_ahead jsonb, add column low_told_at timestamptz,
         add column numbers_at timestamptz not null default now() + interval '1 hour', add column credits_at timestamptz not null default now()`,
      `alter table program add column daily_credits integer`,
      `alter table sender_number add column month_at timestamptz`,
      `create index sender_number_month on sender_number (month_at) where month_at is not null`,
      // price: in hundredths of the currency.
      `create table credit_order (
         id text primary key, workspace_id text not null references workspace on delete cascade, provider_id text not null references number_provider on delete cascade, pack text not null, credits integer not null,
         price integer not null, currency text not null, state text not null default 'asked' check (state in ('asked', 'waiting', 'paid', 'refused')), reason text,
         due_at timestamptz, done_at timestamptz, created_by text references account, created_at timestamptz not null)`,
      `create index credit_order_due on credit_order (due_at) where due_at is not null`,
      `create index credit_order_of on credit_order (workspace_id, created_at desc)`,
      GIVE_BACK,
      // usual_a_day: what it carried before it rested, to which it is brought back.
      `alter table sender_number add column rested_at timestamptz, add column rest_until timestamptz, add column rest_why text, add column rested_by text check (rested_by in ('rule', 'hand')),
         add column back_at timestamptz, add column usual_a_day integer, add column rests integer not null default 0`,
      `alter table workspace add column rests_unwell boolean not null default true`,
      // before: the number they knew, of those who were given another; they are told.
      `alter table sender_assignment add column since timestamptz, add column before text references sender_number on delete set null`,
      `alter table number_order drop constraint number_order_what_check, add constraint number_order_what_check check (what in ('take', 'give-back', 'port-in')),
         drop constraint number_order_state_check, add constraint number_order_state_check check (state in ('asked', 'waiting', 'done', 'refused', 'called-back')),
         add column facts jsonb, add column planned_at timestamptz`,
      `drop index number_order_open`,
      `create unique index number_order_open on number_order (workspace_id, number) where state in ('asked', 'waiting')`,
      `create trigger give_back_credits after insert on message_event referencing new table as fresh for each statement execute function give_back_credits()`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `drop index number_order_open`,
      `delete from number_order where what = 'port-in'`,
      `update number_order set state = 'refused' where state in ('waiting', 'called-back')`,
      `create unique index number_order_open on number_order (workspace_id, number) where state = 'asked'`,
      `alter table number_order drop constraint number_order_what_check, add constraint number_order_what_check check (what in ('take', 'give-back')),
         drop constraint number_order_state_check, add constraint number_order_state_check check (state in ('asked', 'done', 'refused')), drop column facts, drop column planned_at`,
      `alter table sender_assignment drop column since, drop column before`,
      `alter table workspace drop column rests_unwell`,
      `alter table sender_number drop column rested_at, drop column rest_until, drop column rest_why, drop column rested_by, drop column back_at, drop column usual_a_day, drop column rests`,
      `drop trigger give_back_credits on message_event`,
      `drop function give_back_credits`,
      `drop table credit_order`,
      `alter table sender_number drop column month_at`,
      `alter table program drop column daily_credits`,
      `alter table workspace drop column prices, drop column daily_credits, drop column enough_until, drop column credits_ahead, drop column low_told_at, drop column numbers_at, drop column credits_at`,
      `drop index credit_entry_day`,
      `alter table credit_entry drop column kind, drop column channel, drop column program_id, drop column send_id, drop column subject`,
    ])
      this.addSql(sql);
  }
}

/**
 * What was paid for and then taken by nobody costs nothing: refused as it was handed over, or called back or stopped while it
 * waited for another try. Here, since all of it is told to the events of messages, whoever does it.
 */
const GIVE_BACK = `create function give_back_credits() returns trigger language plpgsql as $$
begin
  if current_setting('wren.restoring', true) = 'on' then return null; end if;
  if not exists (select from fresh where event in ('block', 'cancel', 'withdraw', 'refuse')) then return null; end if;
  with due as materialized (
    select m.id, m.workspace_id, m.channel, m.program_id, m.send_id, m.credits, f.at from fresh f join message m on m.id = f.message_id
     where f.event in ('block', 'cancel', 'withdraw', 'refuse') and m.credits > 0 and m.submitted_at is not null and m.state in ('blocked', 'cancelled', 'failed')
       and not exists (select from text_part p where p.text_id = m.id)
     for update of m),
  free as (update message m set credits = 0 from due d where m.id = d.id),
  entries as (
    insert into credit_entry (workspace_id, kind, channel, program_id, send_id, delta, reason, texts, at)
    select workspace_id, 'returned', channel, program_id, send_id, sum(credits), 'taken by nobody', count(*), max(at) from due
     group by workspace_id, channel, program_id, send_id returning workspace_id, delta)
  update workspace w set credit_balance = credit_balance + e.delta
    from (select workspace_id, sum(delta) as delta from entries group by workspace_id) e where w.id = e.workspace_id;
  return null;
end $$`;
