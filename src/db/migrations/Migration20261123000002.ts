import { Migration } from '@mikro-orm/migrations';

/**
 * People: fields of the workspace's own, tags and lists, stages, segments, imports, batches, duplicates.
 * What a screen sorts or searches a million people by is a column with an index here, not worked out on reading.
 */
export class Migration20261123000002 extends Migration {
  override up(): void {
    for (const statement of [...PERSON, ...MARKS, ...HISTORY, ...IMPORTS, ...BATCHES, ...UPKEEP])
      this.addSql(statement);
  }

  override down(): void {
    for (const table of TABLES) this.addSql(`drop table if exists "${table}" cascade`);
    this.addSql(`alter table broadcast drop column audience`);
    this.addSql(`alter table text drop column step_id`);
    this.addSql(`alter table person ${COLUMNS.map((column) => `drop column ${column} cascade`).join(', ')}`);
    this.addSql(`create index person_page on person (workspace_id, id)`);
  }
}

const COLUMNS = [
  ...[
    'full_name',
    'search',
    'stage_id',
    'owner_id',
    'place_region',
    'place_zones',
    'merged_into',
    'erased_at',
  ],
];

const PERSON = [
  `create extension if not exists pg_trgm`,
  `create table stage (
     id text primary key, workspace_id text not null references workspace, name text not null, position integer not null,
     created_at timestamptz not null, unique (workspace_id, id))`,
  `create unique index stage_name on stage (workspace_id, lower(name))`,
  // place_region and place_zones are worked out from number, zone and address by the core; null: not yet.
  // A merged person stays as a pointer, so that a text from the old number finds the one that was kept.
  `alter table person
     add column full_name text generated always as
       (nullif(lower(trim(coalesce(first_name, '') || ' ' || coalesce(last_name, ''))), '')) stored,
     add column search text generated always as
       (lower(trim(coalesce(first_name, '') || ' ' || coalesce(last_name, '')) || ' ' || coalesce(email, '') || ' ' || number)) stored,
     add column stage_id text, add column owner_id text references account,
     add column place_region text, add column place_zones text[],
     add column merged_into text, add column erased_at timestamptz,
     add foreign key (workspace_id, stage_id) references stage (workspace_id, id),
     add foreign key (workspace_id, merged_into) references person (workspace_id, id)`,
  `drop index person_page`,
  `create index person_name on person (workspace_id, full_name, id)`,
  `create index person_search on person using gin (search gin_trgm_ops)`,
  `create index person_wrote on person (workspace_id, last_wrote_at, id) where last_wrote_at is not null`,
  `create index person_stage on person (workspace_id, stage_id, id) where stage_id is not null`,
  `create index person_owner on person (workspace_id, owner_id, id) where owner_id is not null`,
  `create index person_place on person (workspace_id, place_region, id)`,
  `create index person_source on person (workspace_id, source, id)`,
  `create index person_line on person (workspace_id, line_type, id)`,
  `create index person_email on person (workspace_id, lower(email)) where email is not null`,
  `create index person_merged on person (merged_into) where merged_into is not null`,
];

const MARKS = [
  `create table field (
     id text primary key, workspace_id text not null references workspace, key text not null, label text not null,
     kind text not null check (kind in ('text', 'number', 'date', 'yes-no', 'one-of', 'several-of')),
     options jsonb not null default '[]', position integer not null, archived_at timestamptz, created_at timestamptz not null,
     unique (workspace_id, key), unique (workspace_id, id))`,
  `create unique index field_label on field (workspace_id, lower(label)) where archived_at is null`,
  `create table label (
     id text primary key, workspace_id text not null references workspace, kind text not null check (kind in ('tag', 'list')),
     name text not null, created_at timestamptz not null, unique (workspace_id, id))`,
  `create unique index label_name on label (workspace_id, kind, lower(name))`,
  // batch_id: the batch or import that put it there, and so may take it away again.
  `create table person_label (
     workspace_id text not null, label_id text not null, person_id text not null, batch_id text, at timestamptz not null,
     primary key (label_id, person_id), foreign key (workspace_id, person_id) references person (workspace_id, id),
     foreign key (workspace_id, label_id) references label (workspace_id, id))`,
  `create index person_label_person on person_label (person_id)`,
  `create table segment (
     id text primary key, workspace_id text not null references workspace, name text not null, condition jsonb not null,
     columns jsonb not null default '[]', sort text not null default '', pinned boolean not null default false, position integer not null,
     shared text not null check (shared in ('me', 'some', 'all')), owner_id text not null references account,
     version integer not null default 1, created_at timestamptz not null, updated_at timestamptz not null, unique (workspace_id, id))`,
  `create unique index segment_name on segment (workspace_id, lower(name))`,
  `create table segment_share (
     workspace_id text not null, segment_id text not null, account_id text not null references account,
     primary key (segment_id, account_id),
     foreign key (workspace_id, segment_id) references segment (workspace_id, id) on delete cascade)`,
  `create table preference (
     workspace_id text not null references workspace, account_id text not null references account, key text not null,
     value jsonb not null, primary key (workspace_id, account_id, key))`,
];

const HISTORY = [
  // Beside the person, not in it: a row here costs two small indexes at each text, there it would cost ten.
  `create table last_text (
     person_id text primary key, workspace_id text not null, at timestamptz not null,
     foreign key (workspace_id, person_id) references person (workspace_id, id)) with (fillfactor = 80)`,
  `create index last_text_at on last_text (workspace_id, at, person_id)`,
  `insert into last_text (person_id, workspace_id, at)
     select person_id, workspace_id, max(submitted_at) from text where submitted_at is not null group by 1, 2`,
  `alter table text add column step_id text`,
  `create index text_step on text (step_id, person_id) where step_id is not null`,
  `create index text_program on text (workspace_id, program_id, submitted_at, person_id) where submitted_at is not null`,
  `create table engagement (
     id bigint generated always as identity primary key, workspace_id text not null, person_id text not null,
     kind text not null check (kind in ('clicked', 'redeemed')), text_id text, at timestamptz not null,
     foreign key (workspace_id, person_id) references person (workspace_id, id),
     foreign key (workspace_id, text_id) references text (workspace_id, id))`,
  `create index engagement_person on engagement (person_id, kind, at)`,
  `alter table broadcast add column audience jsonb`,
  // Whom a broadcast meant at the moment it began.
  `create table broadcast_person (
     workspace_id text not null, broadcast_id text not null, person_id text not null, primary key (broadcast_id, person_id),
     foreign key (workspace_id, broadcast_id) references broadcast (workspace_id, id))`,
];

const IMPORTS = [
  `create table import (
     id text primary key, workspace_id text not null references workspace, name text not null, file_name text not null,
     format text not null check (format in ('csv', 'xlsx', 'vcard')), bytes bigint not null, digest text not null,
     state text not null check (state in
       ('draft', 'checking', 'checked', 'running', 'finished', 'stopped', 'failed', 'undoing', 'undone')),
     shape jsonb not null default '{}', mapping jsonb not null default '[]', options jsonb not null default '{}',
     problem text, cursor integer not null default 0, rows integer not null default 0, counts jsonb not null default '{}',
     created_by text references account, created_at timestamptz not null, updated_at timestamptz not null, finished_at timestamptz,
     unique (workspace_id, id))`,
  `create index import_page on import (workspace_id, id desc)`,
  `create table import_chunk (
     workspace_id text not null, import_id text not null, index integer not null, bytes bytea not null, primary key (import_id, index),
     foreign key (workspace_id, import_id) references import (workspace_id, id) on delete cascade)`,
  `alter table import_chunk alter column bytes set storage external`,
  // One row per row of the file. person_id of somebody to be added is given out by the trial run.
  `create table import_row (
     workspace_id text not null, import_id text not null, line integer not null, verdict text not null check (verdict in
       ('add', 'update', 'same', 'invalid', 'duplicate', 'left-alone', 'opted-out')),
     number text, person_id text, line_type text, reason text, told text, data jsonb, changes jsonb, undone text, primary key (import_id, line),
     foreign key (workspace_id, import_id) references import (workspace_id, id) on delete cascade)`,
  `create index import_row_person on import_row (person_id) where person_id is not null`,
  `create index import_row_number on import_row (import_id, number) where number is not null`,
];

const BATCHES = [
  `create table batch (
     id text primary key, workspace_id text not null references workspace, name text not null, action jsonb not null,
     state text not null check (state in ('waiting', 'running', 'finished', 'stopped', 'undoing', 'undone')),
     pace_count integer, pace_seconds integer, start_at timestamptz not null, next_at timestamptz not null,
     total integer not null, cursor integer not null default 0, failed integer not null default 0, undo_cursor integer not null default 0,
     kept integer not null default 0, created_by text references account, created_at timestamptz not null, updated_at timestamptz not null,
     finished_at timestamptz, unique (workspace_id, id))`,
  `create index batch_due on batch (next_at) where state in ('waiting', 'running', 'undoing')`,
  `create index batch_page on batch (workspace_id, id desc)`,
  // Who is meant, in order. Done is what lies at or before the batch's cursor; outcome is written only where there is more to say.
  `create table batch_person (
     workspace_id text not null, batch_id text not null, seq integer not null, person_id text not null, outcome text
       check (outcome in ('failed', 'already', 'kept')), reason text, before jsonb, primary key (batch_id, seq),
     foreign key (workspace_id, batch_id) references batch (workspace_id, id) on delete cascade)`,
  `create index batch_person_person on batch_person (batch_id, person_id)`,
];

const UPKEEP = [
  `create table duplicate_pair (
     workspace_id text not null references workspace, one_id text not null, other_id text not null, reasons text[] not null,
     dismissed_at timestamptz, found_at timestamptz not null, primary key (workspace_id, one_id, other_id), check (one_id < other_id))`,
  `create table duplicate_search (
     workspace_id text primary key references workspace, state text not null check (state in ('running', 'finished')), pairs integer not null default 0,
     started_at timestamptz not null, finished_at timestamptz)`,
  `create table merge (
     id text primary key, workspace_id text not null references workspace, kept_id text not null, gone_id text not null,
     kept_before jsonb not null, gone_before jsonb not null, moved jsonb not null, after jsonb not null,
     created_by text references account, at timestamptz not null, undone_at timestamptz, unique (workspace_id, id))`,
  `create index merge_kept on merge (workspace_id, kept_id)`,
  // After an erasure only this is left of a number: enough to leave it alone.
  `create table suppression (
     workspace_id text not null references workspace, number_hash text not null, since timestamptz not null,
     primary key (workspace_id, number_hash))`,
  // An erasure may clean the evidence in the ledger; nothing else may touch it.
  `create or replace function refuse_change() returns trigger language plpgsql as $$
     begin
       if current_setting('wren.erasing', true) = 'on' then return coalesce(new, old); end if;
       raise exception 'the ledger % is append-only', tg_table_name;
     end $$`,
];

const TABLES = [
  ...[
    'suppression',
    'merge',
    'duplicate_search',
    'duplicate_pair',
    'batch_person',
    'batch',
    'import_row',
    'import_chunk',
    'import',
  ],
  ...[
    'broadcast_person',
    'engagement',
    'last_text',
    'preference',
    'segment_share',
    'segment',
    'person_label',
    'label',
    'field',
    'stage',
  ],
];
