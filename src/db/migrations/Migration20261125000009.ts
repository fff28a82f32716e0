import { Migration } from '@mikro-orm/migrations';

/**
 * Addresses: where people are reached, several of each kind, each with a state and with consent of its own. The row of
 * a person keeps a copy of the preferred ones, by which a million people are sorted, searched and counted.
 */
export class Migration20261125000009 extends Migration {
  override up(): void {
    for (const statement of [...ADDRESSES, ...COPIES, ...CONSENT, ...IMPORTS]) this.addSql(statement);
  }

  override down(): void {
    for (const statement of BACK) this.addSql(statement);
  }
}

const ADDRESSES = [
  // Rank 0 is the preferred one of its kind. A number or a chat id is one person's; an e-mail address may be a family's.
  `create table address (
     workspace_id text not null, person_id text not null, kind text not null check (kind in ('number', 'email', 'chat')), rank integer not null check (rank >= 0),
     value text not null, state text not null default 'in-service' check (state in ('in-service', 'stale', 'gone', 'bounced', 'blocked')),
     line_type text not null default 'unknown' check (line_type in ('mobile', 'landline', 'voip', 'unknown')),
     failures integer not null default 0, since timestamptz not null,
     primary key (person_id, kind, rank) deferrable initially immediate,
     foreign key (workspace_id, person_id) references person (workspace_id, id) on delete cascade)`,
  `create unique index address_value on address (workspace_id, kind, value, (case when kind = 'email' then person_id else '' end))`,
  `select set_config('wren.quiet', 'on', true)`,
  `update person set email = lower(email) where email <> lower(email)`,
  `insert into address (workspace_id, person_id, kind, rank, value, state, line_type, failures, since)
     select workspace_id, coalesce(merged_into, id), 'number', row_number() over (partition by coalesce(merged_into, id) order by merged_into is not null, id) - 1,
            number, case when number_state = 'in-service' and unreachable_count >= 3 then 'stale' else number_state end, line_type, unreachable_count, created_at
       from person where erased_at is null`,
  `insert into address (workspace_id, person_id, kind, rank, value, since)
     select workspace_id, owner, 'email', row_number() over (partition by owner order by gone, value) - 1, value, since from (
       select workspace_id, coalesce(merged_into, id) as owner, email as value, bool_and(merged_into is not null) as gone, min(created_at) as since
         from person where erased_at is null and email <> '' group by 1, 2, 3) e`,
  `alter table person drop constraint person_number_state_check`,
  `update person set number_state = 'stale' where number_state = 'in-service' and unreachable_count >= 3 and merged_into is null and erased_at is null`,
  `alter table person alter number drop not null, drop column unreachable_count,
     add constraint person_number_state_check check (number_state in ('in-service', 'stale', 'gone', 'blocked')),
     add column email_state text not null default 'in-service' check (email_state in ('in-service', 'stale', 'gone', 'bounced', 'blocked')),
     add column further text[]`,
  `update person set number = null, email = null where merged_into is not null or erased_at is not null`,
  `update person p set further = a.further from (
     select person_id, array_agg(value order by kind, rank) as further from address where rank > 0 group by 1) a where p.id = a.person_id`,
  // What is typed into the search box finds any address.
  `drop index person_search`,
  `alter table person drop column search`,
  `create function words_of(text[]) returns text language sql immutable as $$ select coalesce(array_to_string($1, ' '), '') $$`,
  `alter table person add column search text generated always as
     (lower(trim(coalesce(first_name, '') || ' ' || coalesce(last_name, '')) || ' ' || coalesce(email, '') || ' ' || coalesce(number, '') || ' ' || words_of(further))) stored`,
  `create index person_search on person using gin (search gin_trgm_ops)`,
];

/**
 * bring_addresses: a new person brings the addresses of their row along, whoever adds them. copy_addresses: from then
 * on the addresses are what counts, and the row of the person follows them.
 */
const COPIES = [
  `create function bring_addresses() returns trigger language plpgsql as $$
     begin
       insert into address (workspace_id, person_id, kind, rank, value, state, line_type, failures, since)
       select workspace_id, id, 'number', 0, number, number_state, line_type, case number_state when 'stale' then 3 else 0 end, created_at from fresh where number is not null
       union all select workspace_id, id, 'email', 0, email, email_state, 'unknown', case email_state when 'stale' then 3 else 0 end, created_at from fresh where email is not null;
       return null;
     end $$`,
  `create trigger bring_addresses after insert on person referencing new table as fresh for each statement execute function bring_addresses()`,
  `create function copy_addresses() returns trigger language plpgsql as $$
     begin
       if pg_trigger_depth() > 1 then return null; end if;
       update person p set number = a.number, email = a.email, line_type = coalesce(a.line_type, 'unknown'), number_state = coalesce(a.number_state, 'in-service'),
              email_state = coalesce(a.email_state, 'in-service'), further = a.further
         from (select t.person_id, max(x.value) filter (where x.kind = 'number' and x.rank = 0) as number, max(x.value) filter (where x.kind = 'email' and x.rank = 0) as email,
                      max(x.line_type) filter (where x.kind = 'number' and x.rank = 0) as line_type, max(x.state) filter (where x.kind = 'number' and x.rank = 0) as number_state,
                      max(x.state) filter (where x.kind = 'email' and x.rank = 0) as email_state, array_agg(x.value order by x.kind, x.rank) filter (where x.rank > 0) as further
                 from (select distinct person_id from touched) t left join address x on x.person_id = t.person_id group by 1) a
        where p.id = a.person_id and (p.number, p.email, p.line_type, p.number_state, p.email_state, p.further) is distinct from
              (a.number, a.email, coalesce(a.line_type, 'unknown'), coalesce(a.number_state, 'in-service'), coalesce(a.email_state, 'in-service'), a.further);
       return null;
     end $$`,
  `create trigger copy_added after insert on address referencing new table as touched for each statement execute function copy_addresses()`,
  `create trigger copy_changed after update on address referencing new table as touched for each statement execute function copy_addresses()`,
  `create trigger copy_taken after delete on address referencing old table as touched for each statement execute function copy_addresses()`,
];

/** Consent is given by an address. `current`: of several addresses, the one the person's last word to a program came by. */
const CONSENT = [
  `alter table consent_event disable trigger user`,
  `alter table consent_event add column address text`,
  `alter table consent_state add column address text, add column current boolean not null default true`,
  // Whoever was merged lost the copy of their number above: it is known from the merge.
  `create temporary table whose on commit drop as
     select distinct on (p.id) p.id, coalesce(p.number, m.gone_before ->> 'number', 'erased:' || p.id) as value from person p
       left join merge m on m.gone_id = p.id and m.undone_at is null order by p.id, m.at desc`,
  `update consent_event e set address = w.value from whose w where w.id = e.person_id`,
  `update consent_state c set address = w.value from whose w where w.id = c.person_id`,
  `alter table consent_event enable trigger user`,
  `alter table consent_event alter address set not null`,
  `alter table consent_state alter address set not null, drop constraint consent_state_pkey, add primary key (person_id, program_id, channel, address)`,
  `drop index consent_state_program`,
  `create index consent_state_program on consent_state (workspace_id, program_id, channel, state, person_id) where current`,
];

const IMPORTS = [
  `alter table import_row add column email text`,
  `create index import_row_email on import_row (import_id, email) where email is not null`,
];

const BACK = [
  `drop index import_row_email`,
  `alter table import_row drop column email`,
  `delete from consent_state where not current`,
  `drop index consent_state_program`,
  `alter table consent_state drop constraint consent_state_pkey, drop column address, drop column current, add primary key (person_id, program_id, channel)`,
  `create index consent_state_program on consent_state (workspace_id, program_id, channel, state, person_id)`,
  `alter table consent_event drop column address`,
  `drop trigger bring_addresses on person`,
  `drop function bring_addresses`,
  ...['copy_added', 'copy_changed', 'copy_taken'].map((name) => `drop trigger ${name} on address`),
  `drop function copy_addresses`,
  `select set_config('wren.quiet', 'on', true)`,
  `update person p set number = coalesce(
     (select m.gone_before ->> 'number' from merge m where m.gone_id = p.id and m.undone_at is null order by m.at desc limit 1), 'none:' || p.id) where number is null`,
  `alter table person add column unreachable_count integer not null default 0, drop column email_state`,
  `update person p set unreachable_count = a.failures from address a where a.person_id = p.id and a.kind = 'number' and a.rank = 0 and a.failures > 0`,
  `update person set number_state = 'in-service' where number_state not in ('in-service', 'gone')`,
  `alter table person drop constraint person_number_state_check, add constraint person_number_state_check check (number_state in ('in-service', 'gone'))`,
  `drop index person_search`,
  `alter table person drop column search, alter number set not null`,
  `drop function words_of`,
  `alter table person drop column further`,
  `alter table person add column search text generated always as
     (lower(trim(coalesce(first_name, '') || ' ' || coalesce(last_name, '')) || ' ' || coalesce(email, '') || ' ' || number)) stored`,
  `create index person_search on person using gin (search gin_trgm_ops)`,
  `drop table address`,
];
