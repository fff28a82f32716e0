import { Migration } from '@mikro-orm/migrations';

/**
 * Nothing gets lost, nothing stops everybody: texts that could not be worked on are kept (`unread_text`), rows that
 * fail are told apart (`trouble`), an installation knows itself (`installation`), what is pressed twice counts once.
 */
export class Migration20261125000006 extends Migration {
  override up(): void {
    for (const statement of [...RECEIVING, ...UPKEEP, ...ERASING]) this.addSql(statement);
  }

  override down(): void {
    this.addSql(`drop table unread_text, trouble, installation, press`);
    this.addSql(`alter table batch drop column problem`);
    this.addSql(`alter table broadcast drop column resumed_at`);
    this.addSql(`drop index import_page_stored`);
    this.addSql(`drop table inbound_part`);
    this.addSql(
      `create table inbound_part (
         from_number text not null, to_number text not null, reference integer not null, total smallint not null, index smallint not null,
         carrier_id text not null, body text not null, at timestamptz not null,
         primary key (from_number, to_number, reference, total, index))`,
    );
    this.addSql(`update inbound_text set carrier_id = id where carrier_id is null`);
    this.addSql(
      `alter table inbound_text alter carrier_id set not null, drop column from_number, drop column fingerprint`,
    );
  }
}

const RECEIVING = [
  // Most carriers give texts no id. What such a text is told by stands in `fingerprint` until the carrier surely knows that we have it.
  `alter table inbound_text alter carrier_id drop not null, add from_number text, add fingerprint text`,
  `update inbound_text i set from_number = p.number from person p where p.id = i.person_id`,
  `alter table inbound_text alter from_number set not null`,
  `create index inbound_unsure on inbound_text (fingerprint) where fingerprint is not null`,
  // Texts of which what follows could not be carried out, in the order they came. Null workspace: to no number we know.
  // holds: the person gets nothing automatic until it is worked on.
  `create table unread_text (
     seq bigint generated always as identity, id text primary key, workspace_id text references workspace, carrier_id text,
     from_number text not null, to_number text not null, body text not null, fingerprint text, holds boolean not null, at timestamptz not null)`,
  `create index unread_text_from on unread_text (from_number)`,
  // Parts of longer texts. A part is kept as its UTF-16 units in base64: a pair of surrogates may be cut between two parts.
  // done_at: the whole text was made of it; it stays for a while, to know the part if it is delivered again.
  `insert into unread_text (id, workspace_id, from_number, to_number, body, holds, at)
     select 'unr_' || md5(from_number || to_number || reference), (select workspace_id from sender_number where number = to_number), from_number, to_number,
            string_agg(body, ' […] ' order by index), true, max(at) from inbound_part group by from_number, to_number, reference`,
  `drop table inbound_part`,
  `create table inbound_part (
     from_number text not null, to_number text not null, reference integer not null, total smallint not null, index smallint not null,
     units text not null, at timestamptz not null, done_at timestamptz, primary key (from_number, to_number, reference, total, index))`,
  `create index inbound_part_at on inbound_part (at)`,
];

const UPKEEP = [
  // A row of some queue that could not be worked on: when it is tried again, or since when it is set aside.
  `create table trouble (
     queue text not null, row_id text not null, workspace_id text references workspace, tries integer not null, problem text not null,
     detail jsonb, since timestamptz not null, next_try_at timestamptz not null, aside_at timestamptz, primary key (queue, row_id))`,
  `create index trouble_workspace on trouble (workspace_id, since)`,
  `alter table batch add problem text`,
  `alter table broadcast add resumed_at timestamptz`,
  // Which database this is and when it was last alive: a copy of it knows by this that it is one.
  `create table installation (
     one boolean primary key default true check (one), mark text not null, alive_at timestamptz not null,
     held_since timestamptz, held_because text check (held_because in ('copy', 'gap', 'restored')), away_since timestamptz)`,
  // A form or an action that makes or sends something counts once.
  `create table press (
     workspace_id text not null references workspace, token text not null, answer jsonb, at timestamptz not null, primary key (workspace_id, token))`,
  `create index press_at on press (at)`,
  `create index import_page_stored on import (updated_at) where state in ('draft', 'checked', 'failed', 'finished', 'undone')`,
  // Jobs of the library that was used before: what is due is looked for.
  `drop schema if exists graphile_worker cascade`,
];

/** Copies of what erased people were called: in files of imports that are over, in findings, in details of the audit. */
const ERASING = [
  `update import_row set told = regexp_replace(told, ': \\+\\d+$', '') where verdict = 'duplicate' and told like 'the same number as row %'`,
  `update import_row set told = regexp_replace(told, ', who was merged with \\+\\d+$', ', by a number that was merged') where verdict = 'duplicate'`,
  `delete from import_chunk c using import i where i.id = c.import_id and i.state in ('finished', 'undone')`,
  `update import set shape = (shape - 'sample') || case when shape -> 'guesses' is null then '{}'::jsonb else jsonb_build_object('guesses',
     (select coalesce(jsonb_agg(g || '{"sample": []}'), '[]') from jsonb_array_elements(shape -> 'guesses') g)) end where state in ('finished', 'undone')`,
  `select set_config('wren.erasing', 'on', true)`,
  `update audit_entry a set detail = '{}' from person p where p.workspace_id = a.workspace_id and p.id = a.subject and p.erased_at is not null and a.detail <> '{}'`,
  `select set_config('wren.erasing', 'off', true)`,
];
