import { importMoves, type ImportEvent, type ImportState } from '@/core/import/lifecycle';
import type { ColumnGuess, ColumnMap } from '@/core/import/columns';
import type { Changes, Finding, KnownPerson, Verdict } from '@/core/import/decide';
import type { RowPerson } from '@/core/import/row';
import { rollup } from 'd3-array';
import type { Channel } from '@/core/message/channel';
import type { AddressKind } from '@/core/people/address';
import { setEmails } from '@/db/people/addresses';
import type { ConsentState } from '@/core/consent/ledger';
import type { OwnFieldKind } from '@/core/audience/fields';
import type { OwnValues } from '@/core/people/values';
import { toJson } from '@/db/kit/json';
import type { Crossing, Scope } from '@/db/kit/scope';

/** What was found out about a file by looking at its beginning. Empty until then. */
export interface ImportShape {
  encoding?: 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';
  header?: string[] | null;
  guesses?: ColumnGuess[];
  sample?: string[][];
}

/** A mapped column; `fresh` ones become own fields when the import runs. */
export interface ImportColumn extends ColumnMap {
  fresh?: { key: string; label: string; kind: OwnFieldKind };
}

export interface ImportOptions {
  update: boolean;
  tags: string[];
  list: string | null;
  program: string | null;
  /** Attested: the wording and when. Null: nobody becomes textable. */
  consent: { wording: string; date: string; channels?: Channel[] } | null;
}

export interface ImportRow {
  id: string;
  workspace_id: string;
  name: string;
  file_name: string;
  format: 'csv' | 'xlsx' | 'vcard';
  bytes: number;
  digest: string;
  state: ImportState;
  shape: ImportShape;
  mapping: ImportColumn[];
  options: ImportOptions;
  problem: string | null;
  cursor: number;
  rows: number;
  counts: Partial<Record<Verdict, number>> & { findings?: Partial<Record<Finding, number>> };
  created_by: string | null;
  created_at: Date;
  finished_at: Date | null;
}

export const importRow = async (scope: Scope, id: string): Promise<ImportRow | null> =>
  (
    await scope.rows<ImportRow>(`select * from import where workspace_id = :workspace and id = :id`, { id })
  )[0] ?? null;

export const importRows = (
  scope: Scope,
  before: string,
  most: number,
): Promise<(ImportRow & { by: string | null })[]> =>
  scope.rows(
    `select i.*, a.name as by from import i left join account a on a.id = i.created_by
      where i.workspace_id = :workspace and (:before = '' or i.id < :before) order by i.id desc limit :most`,
    { before, most },
  );

/**
 * The oldest import of each workspace that waits for a background process, and the oldest of which only the beginning is
 * to be read: whoever uploads a file sees it although a long one is under way.
 */
export const importsToDo = (
  crossing: Crossing,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  crossing.rows(
    `select distinct on (workspace_id, state = 'draft') id, workspace_id from import i
      where (state in ('checking', 'running', 'undoing') or (state = 'draft' and shape = '{}' and problem is null)) and ${untroubled}
        and :at::timestamptz is not null order by workspace_id, state = 'draft', id`,
    { at },
  );

const IMPORT_LOCK = 7_302;

/** Holds an import for as long as the transaction lives; false when another process has it. */
export const lockImport = async (crossing: Crossing, id: string): Promise<boolean> => {
  const [row] = await crossing.rows<{ locked: boolean }>(
    `select pg_try_advisory_xact_lock(${IMPORT_LOCK}, hashtext(:id)) as locked`,
    { id },
  );
  return row!.locked;
};

export const insertChunk = (scope: Scope, importId: string, index: number, bytes: Buffer): Promise<number> =>
  scope.run(
    `insert into import_chunk (workspace_id, import_id, index, bytes) values (:workspace, :importId, :index, decode(:bytes, 'base64'))`,
    { importId, index, bytes: bytes.toString('base64') },
  );

export const readChunk = async (scope: Scope, importId: string, index: number): Promise<Buffer | null> => {
  const [row] = await scope.rows<{ bytes: Buffer }>(
    `select bytes from import_chunk where workspace_id = :workspace and import_id = :importId and index = :index`,
    { importId, index },
  );
  return row?.bytes ?? null;
};

/** What was found out about a file without a word out of it. */
export const BARE_SHAPE = `(shape - 'sample') || case when shape -> 'guesses' is null then '{}'::jsonb else jsonb_build_object('guesses',
  (select coalesce(jsonb_agg(g || '{"sample": []}'), '[]') from jsonb_array_elements(shape -> 'guesses') g)) end`;

/** The file is needed no more: nobody in it is kept beside the people. */
export async function dropFile(scope: Scope, importId: string): Promise<void> {
  await scope.run(`delete from import_chunk where workspace_id = :workspace and import_id = :importId`, {
    importId,
  });
  await scope.run(
    `update import set shape = ${BARE_SHAPE} where workspace_id = :workspace and id = :importId`,
    { importId },
  );
}

export const hasFile = async (scope: Scope, importId: string): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from import_chunk where workspace_id = :workspace and import_id = :importId limit 1`,
      { importId },
    )
  ).length > 0;

/** Files of imports that nobody went on with since. */
export const dropOldFiles = (crossing: Crossing, before: Date): Promise<number> =>
  crossing.run(
    `with old as (select id from import where state in ('draft', 'checked', 'failed') and updated_at < :before),
     bare as (update import set shape = ${BARE_SHAPE} where id in (select id from old))
     delete from import_chunk c using old where c.import_id = old.id`,
    { before },
  );

/** Changes an import that is in one of these states; false when it is not any more. */
export async function setImport(
  scope: Scope,
  id: string,
  event: ImportEvent,
  values: { at: Date; problem?: string | null; cursor?: number },
): Promise<boolean> {
  const moves = importMoves(event);
  const changed = await scope.run(
    `update import i set state = m.after, updated_at = :at, problem = :problem, cursor = coalesce(:cursor, i.cursor),
            finished_at = case when m.after in ('finished', 'stopped', 'undone') then :at::timestamptz else i.finished_at end
       from unnest(:before::text[], :after::text[]) as m (before, after)
      where i.workspace_id = :workspace and i.id = :id and i.state = m.before`,
    {
      id,
      before: moves.map(([before]) => before),
      after: moves.map(([, after]) => after),
      at: values.at,
      problem: values.problem ?? null,
      cursor: values.cursor ?? null,
    },
  );
  return changed === 1;
}

export const saveShape = (
  scope: Scope,
  id: string,
  shape: ImportShape,
  mapping: readonly ImportColumn[],
  at: Date,
): Promise<number> =>
  scope.run(
    `update import set shape = :shape::jsonb, mapping = :mapping::jsonb, updated_at = :at where workspace_id = :workspace and id = :id`,
    { id, shape: toJson(shape), mapping: toJson(mapping), at },
  );

export interface CheckedRow {
  line: number;
  verdict: Verdict;
  number: string | null;
  /** Of a row without a number. */
  email: string | null;
  personId: string | null;
  lineType: string | null;
  finding: Finding;
  told: string | null;
  data: Omit<RowPerson, 'number' | 'told'> | null;
  changes: Changes | null;
}

export const insertRows = (scope: Scope, importId: string, rows: readonly CheckedRow[]): Promise<number> =>
  scope.run(
    `insert into import_row (workspace_id, import_id, line, verdict, number, email, person_id, line_type, reason, told, data, changes)
     select :workspace, :importId, u.line, u.verdict, u.number, u.email, u."personId", u."lineType", u.finding, u.told, u.data, u.changes
       from json_to_recordset(:rows::json) as u (line int, verdict text, number text, email text, "personId" text, "lineType" text, finding text, told text, data jsonb, changes jsonb)`,
    { importId, rows: toJson(rows) },
  );

/** The line at which each of these numbers, and e-mail addresses of rows without one, stands first in this import. */
export async function linesOfAddresses(
  scope: Scope,
  importId: string,
  { numbers, emails }: Addresses,
): Promise<Map<string, number>> {
  const rows = await scope.rows<{ address: string; line: number }>(
    `select number as address, min(line) as line from import_row where workspace_id = :workspace and import_id = :importId and number = any(:numbers::text[]) group by 1
     union all select email, min(line) from import_row where workspace_id = :workspace and import_id = :importId and email = any(:emails::text[]) group by 1`,
    { importId, numbers, emails },
  );
  return new Map(rows.map((row) => [row.address, row.line]));
}

/** What rows are told by: their number, else their e-mail address. */
export interface Addresses {
  numbers: readonly string[];
  emails: readonly string[];
}

/** The line at which each of these people stands first in this import. */
export async function linesOfPeople(
  scope: Scope,
  importId: string,
  people: readonly string[],
): Promise<Map<string, number>> {
  if (people.length === 0) return new Map();
  const rows = await scope.rows<{ person_id: string; line: number }>(
    `select person_id, min(line) as line from import_row where workspace_id = :workspace and import_id = :importId and person_id = any(:people::text[]) group by person_id`,
    { importId, people },
  );
  return new Map(rows.map((row) => [row.person_id, row.line]));
}

interface KnownRow {
  id: string;
  number: string | null;
  first_name: string | null;
  last_name: string | null;
  email: string | null;
  further: string[] | null;
  region: string | null;
  postal_code: string | null;
  zone: string | null;
  line_type: string;
  fields: OwnValues;
  stopped: boolean;
  consent: ConsentState | null;
  address: string;
}

export interface KnownByAddress extends KnownPerson {
  number: string | null;
  zone: string | null;
  lineType: string;
}

const KNOWN = (kind: AddressKind, lock: string): string =>
  `select p.id, p.number, p.first_name, p.last_name, p.email, p.further, p.region, p.postal_code, p.zone, p.line_type, p.fields, p.stopped_at is not null as stopped, a.value as address,
          (select c.state from consent_state c where c.person_id = p.id and c.program_id = :programId and c.channel = '${kind === 'email' ? 'email' : 'sms'}' and c.current) as consent
     from address a join person p on p.id = a.person_id
    where a.workspace_id = :workspace and p.workspace_id = :workspace and a.kind = '${kind}' and a.value = any(:values::text[]) order by p.id ${lock}`;

/** Who is here with these addresses, whichever of theirs it is. */
export async function knownPeople(
  scope: Scope,
  { numbers, emails }: Addresses,
  programId: string | null,
  lock = false,
): Promise<Map<string, KnownByAddress>> {
  const way = lock ? 'for update of p' : '';
  const find = (kind: AddressKind, values: readonly string[]) =>
    values.length > 0
      ? scope.rows<KnownRow>(KNOWN(kind, way), { values, programId })
      : Promise.resolve([] as KnownRow[]);
  const byNumber = await find('number', numbers);
  const byEmail = await find('email', emails);
  const shared = rollup(
    byEmail,
    (rows) => rows.length > 1,
    (row) => row.address,
  );
  return new Map(
    [...byNumber, ...byEmail].map((row) => [row.address, knownOf(row, shared.get(row.address) ?? false)]),
  );
}

const knownOf = (row: KnownRow, shared: boolean): KnownByAddress => ({
  id: row.id,
  number: row.number,
  firstName: row.first_name,
  lastName: row.last_name,
  email: row.email,
  further: row.further ?? [],
  region: row.region,
  postalCode: row.postal_code,
  zone: row.zone,
  lineType: row.line_type,
  fields: row.fields,
  stopped: row.stopped,
  consent: row.consent ?? 'none',
  erased: false,
  shared,
});

export interface StoredRow {
  line: number;
  verdict: Verdict;
  number: string | null;
  email: string | null;
  person_id: string | null;
  line_type: string | null;
  data: Omit<RowPerson, 'number' | 'told'>;
  changes: Changes | null;
}

/** Rows to be carried out, after a line. */
export const rowsToDo = (scope: Scope, importId: string, after: number, most: number): Promise<StoredRow[]> =>
  scope.rows<StoredRow>(
    `select line, verdict, number, email, person_id, line_type, data, changes from import_row
      where workspace_id = :workspace and import_id = :importId and line > :after and verdict in ('add', 'update', 'same') order by line limit :most`,
    { importId, after, most },
  );

/** Tags that stand in the rows themselves, each once. */
export const tagsOfRows = async (scope: Scope, importId: string): Promise<string[]> =>
  (
    await scope.rows<{ tag: string }>(
      `select distinct t.tag from import_row r, jsonb_array_elements_text(r.data -> 'tags') t (tag)
        where r.workspace_id = :workspace and r.import_id = :importId and r.verdict in ('add', 'update', 'same') order by 1`,
      { importId },
    )
  ).map(({ tag }) => tag);

/** Gives up waiting for a row that another transaction holds after this long. */
export const waitAtMost = (scope: Scope, ms: number): Promise<unknown> =>
  scope.rows(`select set_config('lock_timeout', :ms, true) where :workspace is not null`, { ms: String(ms) });

export interface NewPerson {
  id: string;
  number: string | null;
  data: StoredRow['data'];
  lineType: string;
  region: string | null;
  zones: readonly string[];
}

/** Adds people; gives the ids of those who were not there yet. */
export async function insertPeople(
  scope: Scope,
  people: readonly NewPerson[],
  source: string,
  at: Date,
): Promise<Set<string>> {
  if (people.length === 0) return new Set();
  const rows = await scope.rows<{ id: string }>(
    `insert into person (id, workspace_id, number, first_name, last_name, email, region, postal_code, line_type, fields, source, place_region, place_zones, created_at)
     select u.id, :workspace, u.number, u.first_name, u.last_name, u.email, u.region, u.postal_code, u.line_type, u.fields, :source, u.place_region, u.place_zones, :at
       from json_populate_recordset(null::person, :people::json) as u
     on conflict (workspace_id, number) do nothing returning id`,
    {
      source,
      at,
      people: toJson(
        people.map(({ id, number, data: { tags: _, further: __, ...data }, lineType, region, zones }) => ({
          ...{ ...data, id, number, line_type: lineType, place_region: region, place_zones: zones },
        })),
      ),
    },
  );
  return new Set(rows.map((row) => row.id));
}

export interface PersonChange {
  id: string;
  plain: Partial<Record<'first_name' | 'last_name' | 'email' | 'region' | 'postal_code', string | null>>;
  fields: Record<string, unknown>;
  region: string | null;
  zones: readonly string[];
}

/** Sets the given columns and own fields; a field that is null goes. What is not given stays. */
export async function changePeople(scope: Scope, changes: readonly PersonChange[], at: Date): Promise<void> {
  if (changes.length === 0) return;
  await scope.run(
    `update person p set
        first_name = case when u.plain ? 'first_name' then u.plain ->> 'first_name' else p.first_name end,
        last_name = case when u.plain ? 'last_name' then u.plain ->> 'last_name' else p.last_name end,
        region = case when u.plain ? 'region' then u.plain ->> 'region' else p.region end,
        postal_code = case when u.plain ? 'postal_code' then u.plain ->> 'postal_code' else p.postal_code end,
        fields = jsonb_strip_nulls(p.fields || u.fields), place_region = u.place, place_zones = string_to_array(u.zones, ' ')
       from unnest(:ids::text[], :plain::jsonb[], :fields::jsonb[], :places::text[], :zones::text[]) as u (id, plain, fields, place, zones)
      where p.workspace_id = :workspace and p.id = u.id`,
    {
      ids: changes.map(({ id }) => id),
      plain: changes.map(({ plain }) => toJson(plain)),
      fields: changes.map(({ fields }) => toJson(fields)),
      places: changes.map(({ region }) => region),
      zones: changes.map(({ zones }) => zones.join(' ')),
    },
  );
  await setEmails(
    scope,
    changes.flatMap(({ id, plain: { email } }) => (email === undefined ? [] : [{ personId: id, email }])),
    at,
  );
}

export const labelPeople = (
  scope: Scope,
  pairs: readonly { label: string; person: string }[],
  importId: string,
  at: Date,
): Promise<number> =>
  pairs.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into person_label (workspace_id, label_id, person_id, batch_id, at)
         select :workspace, u.label, u.person, :importId, :at from unnest(:labels::text[], :people::text[]) as u (label, person) on conflict do nothing`,
        { labels: pairs.map(({ label }) => label), people: pairs.map(({ person }) => person), importId, at },
      );

/** Rows that turned out otherwise than the trial said. */
export const correctRows = (
  scope: Scope,
  importId: string,
  rows: readonly {
    line: number;
    verdict: Verdict;
    personId: string | null;
    changes: Changes | null;
    finding: Finding;
  }[],
): Promise<number> =>
  rows.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `update import_row r set verdict = u.verdict, person_id = u.person, changes = u.changes, reason = u.finding
           from unnest(:lines::int[], :verdicts::text[], :people::text[], :changes::jsonb[], :findings::text[]) as u (line, verdict, person, changes, finding)
          where r.workspace_id = :workspace and r.import_id = :importId and r.line = u.line`,
        {
          importId,
          lines: rows.map(({ line }) => line),
          verdicts: rows.map(({ verdict }) => verdict),
          people: rows.map(({ personId }) => personId),
          changes: rows.map(({ changes }) => changes && toJson(changes)),
          findings: rows.map(({ finding }) => finding),
        },
      );

/** Counts what the rows say now, and how far the import is. False when it was stopped meanwhile. */
export async function saveProgress(
  scope: Scope,
  id: string,
  state: ImportState,
  values: { cursor: number; rows: number | null; at: Date },
): Promise<boolean> {
  const changed = await scope.run(
    `update import set cursor = :cursor, rows = coalesce(:rows, rows), updated_at = :at where workspace_id = :workspace and id = :id and state = :state`,
    { id, state, ...values },
  );
  return changed === 1;
}

export const countRows = (scope: Scope, id: string): Promise<number> =>
  scope.run(
    `update import set counts = (
        select coalesce(jsonb_object_agg(verdict, n), '{}') || jsonb_build_object('findings', (select coalesce(jsonb_object_agg(reason, n), '{}')
            from (select reason, count(*) as n from import_row where import_id = :id and workspace_id = :workspace group by reason) f))
          from (select verdict, count(*) as n from import_row where import_id = :id and workspace_id = :workspace group by verdict) v),
        rows = (select count(*) from import_row where import_id = :id and workspace_id = :workspace)
      where workspace_id = :workspace and id = :id`,
    { id },
  );

export interface ShownRow {
  line: number;
  verdict: Verdict;
  /** The number, else the e-mail address of a row without one. */
  address: string | null;
  person_id: string | null;
  reason: Finding;
  told: string | null;
  changes: Changes | null;
  data: Partial<RowPerson> | null;
  undone: string | null;
}

export const shownRows = (
  scope: Scope,
  importId: string,
  verdict: string,
  after: number,
  most: number,
): Promise<ShownRow[]> =>
  scope.rows<ShownRow>(
    `select line, verdict, coalesce(number, email) as address, person_id, reason, told, changes, data, undone from import_row
      where workspace_id = :workspace and import_id = :importId and line > :after and (:verdict = '' or verdict = :verdict) order by line limit :most`,
    { importId, verdict, after, most },
  );
