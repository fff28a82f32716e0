import { guessColumns, isHeader } from '@/core/import/columns';
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
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { detectEncoding, UnreadableFile } from '@/gateways/files/detect';
import type { FileRow, OpenFile } from '@/gateways/files/file-row';
import { fileRows } from '@/gateways/files/rows';
import type { LineLookup } from '@/gateways/lookup';
import type { Context } from '@/services/kit/context';
import { carryOut } from './steps/run';
import { Stopped, type Inside } from './steps/slices';
import { giveUpImport } from './imports';
import { tryOut } from './steps/trial';
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
      const inside: Inside = (work) => inWorkspace(ctx.orm, workspaceId!, work);
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

/** Looks at the first rows: the encoding, the header, and what each column seems to be. */
async function readShape(ctx: Context, inside: Inside, row: ImportRow): Promise<void> {
  const open = fileOf(inside, row.id);
  const first = await inside((scope) => readChunk(scope, row.id, 0));
  const encoding = row.format === 'xlsx' ? 'utf-8' : detectEncoding(first!.subarray(0, 65_536));
  const rows: FileRow[] = [];
  for await (const some of fileRows(open, { format: row.format, encoding, delimiter: null })) {
    rows.push(...some);
    if (rows.length > SAMPLE) break;
  }
  const [top, ...rest] = rows.slice(0, SAMPLE + 1).map(({ cells }) => cells);
  if (!top) throw new UnreadableFile('The file holds no rows.');
  const header = row.format === 'vcard' || isHeader(top, rest) ? top : null;
  const sample = header ? rest : [top, ...rest];
  if (sample.length === 0) throw new UnreadableFile('The file holds a header and no rows below it.');
  await inside(async (scope) => {
    const own = await ownFields(scope);
    const guesses = guessColumns(header, sample, own);
    const shape = {
      encoding,
      header,
      guesses,
      sample: sample.slice(0, 8).map((cells) => cells.map((cell) => cutText(cell, 200))),
    };
    const mapping = guesses.map(({ to, kind, order }) => ({
      to,
      ...(kind ? { kind } : {}),
      ...(order ? { order } : {}),
    }));
    await saveShape(scope, row.id, shape, mapping, new Date(ctx.now()));
    await announce(scope, false);
  });
}
