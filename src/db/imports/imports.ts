import { importMoves, type ImportEvent, type ImportState } from '@/core/import/lifecycle';
import type { FileFormat } from '@/core/import/file-format';
import type { ColumnGuess, ColumnMap } from '@/core/import/columns';
import type { Finding, Verdict } from '@/core/import/decide';
import type { Channel } from '@/core/message/channel';
import type { ConsentState } from '@/core/consent/ledger';
import type { OwnFieldKind } from '@/core/audience/fields';
import type { OwnValues } from '@/core/people/values';
import { toJson } from '@/db/kit/json';
import type { Crossing, Reading, Scope } from '@/db/kit/scope';

/** What was found out about a file by looking at its beginning. Empty until then. */
export interface ImportShape {
  encoding?: 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';
  header?: string[] | null;
  /** Where the header stands, as a spreadsheet counts; null: there is none. Left out: it is the first row. */
  headerLine?: number | null;
  /** The first rows of the file, as they stand in it. */
  top?: { line: number; cells: string[] }[];
  /** Of a workbook. */
  sheets?: string[];
  guesses?: ColumnGuess[];
  sample?: string[][];
}

/** A mapped column; `fresh` ones become own fields when the import runs. */
export interface ImportColumn extends ColumnMap {
  fresh?: { key: string; label: string; kind: OwnFieldKind };
}

export interface ImportOptions {
  update: boolean;
  /** Of who is here only what is empty is filled; left out: what differs is changed. */
  onlyEmpty?: boolean;
  tags: string[];
  list: string | null;
  program: string | null;
  /** Attested: the wording and when. Null: nobody becomes textable. */
  consent: { wording: string; date: string; channels?: Channel[] } | null;
  /** Everybody in the file left, or wants no texts. Left out: whom a column says it of. */
  left?: true;
  /** Of a workbook, by its place; left out: the first, or none was chosen yet. */
  sheet?: number;
  /** Where the header stands; null: there is none. Left out: it is looked for. */
  headerLine?: number | null;
}

export interface ImportRow {
  id: string;
  workspace_id: string;
  name: string;
  file_name: string;
  format: FileFormat;
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
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
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
  { shape, mapping, sheet }: { shape: ImportShape; mapping: readonly ImportColumn[]; sheet: number },
  at: Date,
): Promise<number> =>
  scope.run(
    `update import set shape = :shape::jsonb, mapping = :mapping::jsonb, updated_at = :at,
            options = case when :sheet::int > 0 then options || jsonb_build_object('sheet', :sheet::int) else options end
      where workspace_id = :workspace and id = :id`,
    { id, shape: toJson(shape), mapping: toJson(mapping), sheet, at },
  );

export interface KnownRow {
  id: string;
  number: string | null;
  first_name: string | null;
  last_name: string | null;
  email: string | null;
  further: string[] | null;
  language: string | null;
  region: string | null;
  postal_code: string | null;
  zone: string | null;
  stage_id: string | null;
  owner_id: string | null;
  line_type: string;
  fields: OwnValues;
  stopped: boolean;
  consent: ConsentState | null;
  address: string;
}

/** Gives up waiting for a row that another transaction holds after this long. */
export const waitAtMost = (scope: Scope, ms: number): Promise<unknown> =>
  scope.rows(`select set_config('lock_timeout', :ms, true) where :workspace is not null`, { ms: String(ms) });

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
