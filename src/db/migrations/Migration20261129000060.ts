import { Migration } from '@mikro-orm/migrations';

/**
 * Messages of months long past are put away: what they said, what clearance found and their history go into compressed
 * bundles, the rows that are counted stay. See `docs/architecture.md`.
 */
export class Migration20261129000060 extends Migration {
  override up(): void {
    for (const sql of UP) this.addSql(sql);
  }

  override down(): void {
    for (const sql of DOWN) this.addSql(sql);
  }
}

/** The history may leave the ledger for a bundle, and come back from it, and nowhere else. */
const refuse = (
  more: string,
): string => `create or replace function refuse_change() returns trigger language plpgsql as $$
     begin
       if current_setting('wren.erasing', true) = 'on' then return coalesce(new, old); end if;
       ${more}
       raise exception 'the ledger % is append-only', tg_table_name;
     end $$`;

const SEND = 'coalesce(b.name, q.name, t.name)';

/** What other tools read of messages: see `docs/formats/reading.md`. */
const view = (
  body: string,
  more: string,
): string => `create or replace view reading.messages with (security_barrier = true) as
  select m.id, m.person_id, m.channel, m.kind, g.name as program, m.send_id, ${SEND} as send, m.address, n.number as from_number, ${body} as body, m.parts,
      case when m.submitted_at is null then 0 else m.credits end as credits, m.state, m.failure, m.created_at, m.submitted_at as left_at, m.settled_at${more}
    from message m join program g on g.id = m.program_id left join sender_number n on n.id = m.sender_id
    left join broadcast b on b.id = m.send_id left join sequence q on q.id = m.send_id left join batch t on t.id = m.send_id
   where m.workspace_id = (select r.workspace_id from public.reader r where r.role = current_user)`;

const UP = [
  `create table bundle (
     id text primary key, workspace_id text not null references workspace, month date not null, first_id text not null, last_id text not null,
     messages integer not null, plain_bytes integer not null, content bytea not null, hash text not null, made_at timestamptz not null, unique (workspace_id, id))`,
  // It is compressed as it comes.
  `alter table bundle alter column content set storage external`,
  `create index bundle_first on bundle (workspace_id, first_id)`,
  `alter table message add column bundle_id text, add constraint message_bundle foreign key (workspace_id, bundle_id) references bundle (workspace_id, id)`,
  `create index message_bundle on message (bundle_id) where bundle_id is not null`,
  `alter table workspace add column put_away_months integer check (put_away_months between 3 and 120), add column put_away_after text not null default '',
     add column put_away_at timestamptz not null default now()`,
  refuse(
    `if tg_table_name = 'message_event' and tg_op = 'DELETE' and current_setting('wren.putting_away', true) = 'on' then return old; end if;`,
  ),
  view('case when m.bundle_id is null then m.body end', ', m.bundle_id is not null as put_away'),
];

const DOWN = [
  // A view loses no column by being replaced; who may read it is told anew.
  `drop view reading.messages`,
  view('m.body', ''),
  `do $$ declare one record; begin for one in select role from reader loop execute format('grant select on reading.messages to %I', one.role); end loop; end $$`,
  refuse(''),
  `alter table workspace drop column put_away_months, drop column put_away_after, drop column put_away_at`,
  `drop index message_bundle`,
  `alter table message drop constraint message_bundle, drop column bundle_id`,
  `drop table bundle`,
];
