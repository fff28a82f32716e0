import { findHeader, guessColumns, type ColumnGuess } from '@/core/import/columns';
import { cutText } from '@/core/shared/clean-text';
import {
  importRow,
  importsToDo,
  lockImport,
  saveShape,
  setImport,
  type ImportRow,
} from '@/db/imports/imports';
import { readChunk } from '@/db/imports/import-files';
import { announce } from '@/db/delivery/texts';
import { acrossWorkspaces, byKey, inWorkspace, type Scope } from '@/db/kit/scope';
import { isWorkbook } from '@/core/import/file-format';
import { detectEncoding, UnreadableFile, type Encoding } from '@/gateways/files/detect';
import type { FileRow, OpenFile } from '@/gateways/files/file-row';
import { fileRows } from '@/gateways/files/rows';
import type { LineLookup } from '@/gateways/lookup';
import type { Context } from '@/services/kit/context';
import { carryOut } from './steps/run';
import { Stopped, type Inside } from './steps/slices';
import { giveUpImport } from './imports';
import { tryOut } from './steps/trial';
import type { OwnField } from '@/core/people/values';
import { ownFields } from '@/services/audience/own-fields';
import { asDue, workThrough, type Queue } from '@/services/kit/trouble';
import { undoSlice } from './steps/undo';

/**
 * The background work of imports: reading the beginning of a file, the trial run, the run, the undoing. Each goes on
 * slice by slice; a slice and how far it is commit together, so that a worker that dies is followed by another
 * that goes on after the last whole slice.
 */
export const importQueue = (lookup: () => LineLookup): Queue => ({
  name: 'import',
  rows: {
    named: `(select name from import i where i.workspace_id = :workspace and i.id = x.row_id)`,
    waits: `exists (select 1 from import i where i.id = x.row_id and i.state in ('draft', 'checking', 'running', 'undoing'))`,
  },
  everyMs: 400,
  // Imports take long: so many are under way at once, of different workspaces.
  lanes: 3,
  giveUp: giveUpImport,
  due: async (crossing, untroubled, at) => asDue(await importsToDo(crossing, untroubled('i.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    acrossWorkspaces(ctx.orm, async (crossing) => {
      if (!(await lockImport(crossing, id))) return false;
      const inside: Inside = (work) =>
        inWorkspace(ctx.orm, workspaceId!, async (scope) => {
          // A slice is looked up by its keys, however few or many are here already.
          await byKey(scope);
          return work(scope);
        });
      try {
        await advance(ctx, lookup(), inside, id);
      } catch (error) {
        if (error instanceof Stopped) return true;
        if (!(error instanceof UnreadableFile)) throw error;
        await inside((scope) => failImport(ctx, scope, id, cutText(error.message, 500)));
      }
      return true;
    }),
});

/** Everything that imports have to do now, one of each workspace after the other. */
export const advanceImports = (ctx: Context, lookup: LineLookup): Promise<number> =>
  workThrough(
    ctx,
    importQueue(() => lookup),
  );

async function failImport(ctx: Context, scope: Scope, id: string, problem: string): Promise<void> {
  await setImport(scope, id, 'fail', { at: new Date(ctx.now()), problem });
  await announce(scope, false);
}

async function advance(ctx: Context, lookup: LineLookup, inside: Inside, id: string): Promise<void> {
  const row = await inside((scope) => importRow(scope, id));
  if (!row) return;
  if (row.state === 'draft') await readShape(ctx, inside, row);
  if (row.state === 'checking') await tryOut(ctx, lookup, inside, row, fileOf(inside, id));
  if (row.state === 'running') await carryOut(ctx, inside, row);
  if (row.state === 'undoing') while (await inside((scope) => undoSlice(ctx, scope, row)));
}

/** The stored file, a piece at a time. */
const fileOf = (inside: Inside, id: string): OpenFile =>
  async function* () {
    for (let index = 0; ; index++) {
      const bytes = await inside((scope) => readChunk(scope, id, index));
      if (!bytes) return;
      yield bytes;
    }
  };

const SAMPLE = 200;

/** Rows that are kept to be looked at, so that somebody can say which of them is the header. */
const SHOWN = 12;

/** What a file, or one sheet of it, begins with. */
interface Beginning {
  sheet: number;
  sheets: string[];
  looked: FileRow[];
  header: FileRow | null;
  /** Below the header. */
  below: string[][];
  guesses: ColumnGuess[];
}

/** Sheets that are looked at where the first holds no people: many workbooks begin with a cover or with instructions. */
const MOST_SHEETS = 8;

/** Looks at the first rows: the encoding, the sheets, the header, and what each column seems to be. */
async function readShape(ctx: Context, inside: Inside, row: ImportRow): Promise<void> {
  const first = await inside((scope) => readChunk(scope, row.id, 0));
  const encoding = isWorkbook(row.format) ? 'utf-8' : detectEncoding(first!.subarray(0, 65_536));
  const own = await inside(ownFields);
  const begin = (sheet: number) => readBeginning(row, fileOf(inside, row.id), { encoding, sheet }, own);
  let found = await begin(row.options.sheet ?? 0);
  if (row.options.sheet === undefined)
    for (let next = 1; next < Math.min(found.sheets.length, MOST_SHEETS) && !holdsPeople(found); next++) {
      const other = await begin(next).catch(unlessUnreadable);
      if (other && holdsPeople(other)) found = other;
    }
  const { sheet, sheets, looked, header, below, guesses } = found;
  if (looked.length === 0 && sheets.length < 2) throw new UnreadableFile('The file holds no rows.');
  if (below.length === 0 && looked.length > 0 && sheets.length < 2 && row.options.headerLine === undefined)
    throw new UnreadableFile('The file holds a header and no rows below it.');
  const short = (cells: readonly string[]) => cells.map((cell) => cutText(cell, 200));
  await inside(async (scope) => {
    const shape = {
      ...{ encoding, header: header?.cells ?? null, headerLine: header?.line ?? null, guesses, sheets },
      top: looked.slice(0, SHOWN).map(({ line, cells }) => ({ line, cells: short(cells).slice(0, 12) })),
      sample: below.slice(0, 8).map(short),
    };
    const mapping = guesses.map(({ to, kind, order }) => ({
      to,
      ...(kind ? { kind } : {}),
      ...(order ? { order } : {}),
    }));
    await saveShape(scope, row.id, { shape, mapping, sheet }, new Date(ctx.now()));
    await announce(scope, false);
  });
}

/** A sheet nobody asked for that cannot be read is passed over. */
function unlessUnreadable(error: unknown): null {
  if (error instanceof UnreadableFile) return null;
  throw error;
}

async function readBeginning(
  row: ImportRow,
  open: OpenFile,
  { encoding, sheet }: { encoding: Encoding; sheet: number },
  own: readonly OwnField[],
): Promise<Beginning> {
  let sheets: string[] = [];
  const rows: FileRow[] = [];
  const reading = { format: row.format, encoding, delimiter: null, sheet };
  for await (const some of fileRows(open, { ...reading, onSheets: (names) => (sheets = names) })) {
    rows.push(...some);
    if (rows.length > SAMPLE) break;
  }
  const looked = rows.slice(0, SAMPLE + 1);
  const header = headerOf(row, looked);
  const below = looked.filter(({ line }) => header === null || line > header.line).map(({ cells }) => cells);
  const guesses = guessColumns(header?.cells ?? null, below, own);
  return { sheet, sheets, looked, header, below, guesses };
}

/** Whether somebody in it can be known by something. */
const holdsPeople = ({ guesses }: Beginning): boolean =>
  guesses.some(({ to }) => to === 'number' || to === 'email' || to === 'chat');

/** The row that names the columns: the one somebody chose, else the one that reads so. */
function headerOf({ format, options }: ImportRow, rows: readonly FileRow[]): FileRow | null {
  if (format === 'vcard') return rows[0] ?? null;
  const { headerLine: chosen } = options;
  if (chosen === null) return null;
  if (chosen !== undefined) return rows.find(({ line }) => line === chosen) ?? null;
  return rows[findHeader(rows.map(({ cells }) => cells))] ?? null;
}
