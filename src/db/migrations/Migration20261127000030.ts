import { Migration } from '@mikro-orm/migrations';

/**
 * Several carriers, each with its own link. A sender number belongs to one; the installation's own, whose connection stands in
 * the environment, is the row `house`. Receipts that wait for their text keep what else their id may mean.
 */
export class Migration20261127000030 extends Migration {
  override up(): void {
    for (const sql of CARRIERS) this.addSql(sql);
  }

  override down(): void {
    for (const sql of BACK) this.addSql(sql);
  }
}

const CARRIERS = [
  `create table carrier (
     id text primary key, workspace_id text references workspace, name text not null,
     host text, port integer check (port between 1 and 65535), system_id text, password text,
     profile jsonb not null, created_at timestamptz not null default now(), removed_at timestamptz, unique (workspace_id, id),
     check ((workspace_id is null) = (host is null)))`,
  `insert into carrier (id, name, profile) values ('house', 'The installation’s carrier', '{}')`,
  `alter table sender_number add column carrier_id text not null default 'house' references carrier`,
  `create index sender_number_carrier on sender_number (carrier_id)`,
  `create table carrier_link (
     worker integer not null references worker on delete cascade, carrier_id text not null references carrier on delete cascade,
     state text not null check (state in ('down', 'binding', 'up', 'refused')), up_since timestamptz, why text, sights jsonb, primary key (worker, carrier_id))`,
  `insert into carrier_link (worker, carrier_id, state, up_since) select id, 'house', link_state, link_up_since from worker`,
  `alter table worker drop column link_state, drop column link_up_since`,
  `alter table orphan_receipt add column carrier text, add column number text, add column other_ids jsonb`,
];

const BACK = [
  `alter table orphan_receipt drop column other_ids, drop column number, drop column carrier`,
  `alter table worker add column link_state text not null default 'down', add column link_up_since timestamptz`,
  `update worker w set link_state = l.state, link_up_since = l.up_since from carrier_link l where l.worker = w.id and l.carrier_id = 'house'`,
  `drop table carrier_link`,
  `drop index sender_number_carrier`,
  `alter table sender_number drop column carrier_id`,
  `drop table carrier`,
];
