import { DROPPABLE, type ImportEvent } from '@/core/import/lifecycle';
import { createHash } from 'node:crypto';
import { mappingProblem } from '@/core/import/columns';
import { clean, keyOf } from '@/core/people/values';
import { cutText } from '@/core/shared/clean-text';
import { DAY, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { isDay, type Day } from '@/core/audience/days';
import { Program } from '@/db/programs/entities';
import {
  importRow,
  setImport,
  type ImportColumn,
  type ImportOptions,
  type ImportRow,
} from '@/db/imports/imports';
import { chooseNames } from '@/db/imports/import-rows';
import { dropFile, dropOldFiles, hasFile, insertChunk } from '@/db/imports/import-files';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { detectFormat, UnreadableFile } from '@/gateways/files/detect';
import { writeAudit } from '@/services/kit/audit';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import { todayIn } from '@/services/kit/today';
import { ownFields } from '@/services/audience/own-fields';
import type { ImportInput, ReadAnewInput } from './inputs';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { Import, ImportRow as ImportRowEntity } from '@/db/imports/entities';

export const LARGEST_FILE = 100 * 1024 * 1024;
const CHUNK = 1024 * 1024;
const TOO_LARGE = 'file: larger than 100 MB. Split it, or leave columns out.';

/**
 * Takes a file in, as it comes, and keeps it whole in this transaction: an upload that breaks off leaves nothing.
 * Nothing is read yet but its first bytes, which say what it is.
 */
export async function createImport(
  ctx: Context,
  scope: Scope,
  /** `announced`: the bytes its sender says it has; null: it did not say. */
  file: { name: string; bytes: AsyncIterable<Uint8Array>; announced?: number | null },
  actor: Actor,
): Promise<Result<ImportRow, Refusal>> {
  const id = ctx.id('imp');
  const at = new Date(ctx.now());
  const name = cutText(clean(file.name), 120) || 'pasted rows';
  await scope.em.insert(Import, {
    ...{ id, workspaceId: scope.workspaceId, name, fileName: name, format: 'csv', bytes: 0, digest: '' },
    ...{
      state: 'draft',
      shape: {},
      mapping: [],
      options: usualOptions((await todayIn(scope, ctx.now())).day),
      cursor: 0,
      rows: 0,
      counts: {},
    },
    ...{ problem: null, createdBy: actor.accountId, createdAt: at, updatedAt: at, finishedAt: null },
  });
  if (file.announced && file.announced > LARGEST_FILE) return invalid('file', TOO_LARGE);
  const hash = createHash('sha256');
  let held: Uint8Array[] = [];
  let heldSize = 0;
  let size = 0;
  let index = 0;
  let head: Uint8Array | null = null;
  const flush = async () => {
    const bytes = Buffer.concat(held);
    head ??= bytes.subarray(0, 65_536);
    await insertChunk(scope, id, index++, bytes);
    held = [];
    heldSize = 0;
  };
  for await (const bytes of file.bytes) {
    hash.update(bytes);
    size += bytes.length;
    if (size > LARGEST_FILE) return invalid('file', TOO_LARGE);
    held.push(bytes);
    heldSize += bytes.length;
    if (heldSize >= CHUNK) await flush();
  }
  if (file.announced && size !== file.announced)
    return invalid(
      'file',
      `file: of ${file.announced} bytes only ${size} arrived. Nothing was kept; send it again.`,
    );
  if (heldSize > 0) await flush();
  try {
    await scope.em.nativeUpdate(
      Import,
      { id },
      { format: detectFormat(head ?? new Uint8Array()), bytes: size, digest: hash.digest('hex') },
    );
  } catch (error) {
    if (error instanceof UnreadableFile) return invalid('file', `file: ${error.message}`);
    throw error;
  }
  await writeAudit(ctx, scope, actor.name, 'import.uploaded', id, { file: name, bytes: size });
  return ok((await importRow(scope, id))!);
}

/** The date as a tag is what people look for later. */
const usualOptions = (today: Day): ImportOptions => ({
  update: true,
  tags: [`Import ${today}`],
  list: null,
  program: null,
  consent: null,
});

/** Settles what the columns are and what is wanted, and starts the trial run. Nothing of anybody changes by it. */
export async function checkImport(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ImportInput,
  actor: Actor,
): Promise<Result<ImportRow, Refusal>> {
  const row = await importRow(scope, id);
  if (!row) return notFound('import');
  const guesses = row.shape.guesses;
  if (!guesses) return conflict('state', 'state: the file is still being read.');
  if (!['draft', 'checked', 'failed'].includes(row.state))
    return conflict('state', 'state: this import was started already.');
  if (!(await hasFile(scope, id)))
    return conflict('file', 'file: it was thrown away since. Upload it again to try it anew.');
  const mapping = input.columns.map((column) => ({
    to: column.to as ImportColumn['to'],
    ...(column.label === undefined ? {} : { label: clean(column.label) }),
    ...(column.kind === undefined ? {} : { kind: column.kind }),
    order: column.order ?? null,
  }));
  const wrong = mappingProblem(mapping, guesses, await ownFields(scope));
  if (wrong) return invalid(wrong.field, wrong.message);
  const columns = await withOwnFields(scope, mapping);
  if (!columns.ok) return columns;
  const options = await readOptions(ctx, scope, input);
  if (!options.ok) return options;
  await scope.em.nativeUpdate(
    Import,
    { id },
    {
      name: clean(input.name) || row.name,
      ...{ mapping: columns.value, counts: {}, cursor: 0 },
      // How the file is read was settled before.
      options: { ...options.value, ...readingOf(row.options) },
    },
  );
  await scope.em.nativeDelete(ImportRowEntity, { importId: id });
  return moved(ctx, scope, id, 'check', 'import.checked', actor);
}

const readingOf = ({ sheet, headerLine }: ImportOptions): Partial<ImportOptions> => ({
  ...(sheet === undefined ? {} : { sheet }),
  ...(headerLine === undefined ? {} : { headerLine }),
});

/** Reads the file anew: another of its sheets, or with another row as its header. Nothing was carried out yet. */
export async function readAnew(
  ctx: Context,
  scope: Scope,
  id: string,
  { sheet, header_line: headerLine }: ReadAnewInput,
  actor: Actor,
): Promise<Result<ImportRow, Refusal>> {
  const row = await importRow(scope, id);
  if (!row) return notFound('import');
  if (!(await hasFile(scope, id)))
    return conflict('file', 'file: it was thrown away since. Upload it again.');
  const { sheets = [] } = row.shape;
  if (sheet !== undefined && sheet > 0 && sheet >= sheets.length)
    return invalid('sheet', `sheet: the file has ${Math.max(sheets.length, 1)}. Choose one of them.`);
  const { sheet: _, headerLine: __, ...options } = row.options;
  const chosen = sheet ?? row.options.sheet ?? 0;
  await scope.em.nativeUpdate(
    Import,
    { id },
    {
      ...{ shape: {}, mapping: [], counts: {}, cursor: 0, rows: 0 },
      // Of another sheet the header is looked for again.
      options: {
        ...{ ...options, sheet: chosen },
        ...(chosen === (row.options.sheet ?? 0) && headerLine !== undefined ? { headerLine } : {}),
      },
    },
  );
  await scope.em.nativeDelete(ImportRowEntity, { importId: id });
  return moved(ctx, scope, id, 'read', 'import.read-anew', actor);
}

/** New fields get their key now, and come into being when the import runs. */
async function withOwnFields(
  scope: Scope,
  mapping: ImportColumn[],
): Promise<Result<ImportColumn[], Refusal>> {
  const own = await ownFields(scope, true);
  const taken = own.map(({ key }) => key);
  const columns: ImportColumn[] = [];
  for (const column of mapping) {
    if (column.to.startsWith('own.') && !own.some(({ key }) => `own.${key}` === column.to))
      return invalid('mapping', 'mapping: a field it names is not here any more. Choose another.');
    if (column.to !== 'new') {
      columns.push({
        ...column,
        ...(column.to.startsWith('own.')
          ? { kind: own.find(({ key }) => `own.${key}` === column.to)!.kind }
          : {}),
      });
      continue;
    }
    const label = column.label!;
    if (own.some((field) => field.archivedAt === null && field.label.toLowerCase() === label.toLowerCase()))
      return invalid(
        'mapping',
        `mapping: there is a field “${label}” already. Choose it instead of making a new one.`,
      );
    const key = keyOf(label, taken);
    taken.push(key);
    columns.push({ ...column, to: `own.${key}`, fresh: { key, label, kind: column.kind! } });
  }
  return ok(columns);
}

async function readOptions(
  ctx: Context,
  scope: Scope,
  input: ImportInput,
): Promise<Result<ImportOptions, Refusal>> {
  const program = input.program
    ? await scope.em.findOne(Program, { id: input.program, archivedAt: null })
    : null;
  if (input.program && !program) return invalid('program', 'program: there is no such program here.');
  const tags = [...new Set((input.tags ?? []).map(clean).filter(Boolean))];
  if (tags.some((tag) => tag.length > 60))
    return invalid('tags', 'tags: a tag is at most 60 characters long.');
  const consent = input.consent_wording?.trim()
    ? {
        ...{ wording: input.consent_wording.trim(), date: input.consent_date ?? '' },
        channels: [...new Set(input.consent_channels ?? ['sms' as const])],
      }
    : null;
  if (consent && input.left)
    return invalid('left', 'left: these people cannot have agreed and left. Say one of both.');
  if (consent?.channels.length === 0)
    return invalid('consent_channels', 'consent_channels: say by which channels they agreed.');
  if (consent && !program) return invalid('program', 'program: say which program the people agreed to.');
  if (consent && !isDay(consent.date))
    return invalid('consent_date', 'consent_date: say on which day they agreed, such as 2026-11-24.');
  if (consent && consent.date > (await todayIn(scope, ctx.now())).day)
    return invalid('consent_date', 'consent_date: lies in the future. Give the day on which they agreed.');
  return ok({
    update: input.update ?? true,
    ...(input.only_empty ? { onlyEmpty: true } : {}),
    tags,
    list: input.list ? clean(input.list) || null : null,
    program: program?.id ?? null,
    consent,
    ...(input.left ? { left: true as const } : {}),
  });
}

/** Whether rows are about whoever has their number under another name: one row (`line`), or all of them. */
export async function chooseOtherNames(
  ctx: Context,
  scope: Scope,
  id: string,
  { line, choice }: { line: number | null; choice: 'take' | 'leave' },
  actor: Actor,
): Promise<Result<{ rows: number }, Refusal>> {
  const row = await importRow(scope, id);
  if (!row) return notFound('import');
  if (row.state !== 'checked')
    return conflict('state', 'state: it was started already, or is being tried out.');
  const rows = await chooseNames(scope, id, line, choice);
  if (rows === 0) return notFound('row');
  await writeAudit(ctx, scope, actor.name, 'import.names-chosen', id, { line, choice, rows });
  return ok({ rows });
}

/** From here on the rows say everything: the file they came from is thrown away. */
export async function runImport(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<ImportRow, Refusal>> {
  const running = await moved(ctx, scope, id, 'run', 'import.started', actor);
  if (running.ok) await dropFile(scope, id);
  return running;
}

/** A file nobody went on with is kept for so long. */
const FILE_KEPT: Millis = 7 * DAY;

export const dropForgottenFiles = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) => dropOldFiles(crossing, new Date(ctx.now() - FILE_KEPT)));

/** Stops it wherever it is: what was tried is thrown away, what was carried out or taken back stays as it is. */
export const stopImport = (
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<ImportRow, Refusal>> => moved(ctx, scope, id, 'stop', 'import.stopped', actor);

/** Takes back what it did, row by row, as far as nobody changed it since. */
export const undoImport = (
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<ImportRow, Refusal>> => moved(ctx, scope, id, 'undo', 'import.undone', actor);

/** Gives one up that cannot go on: what was tried is thrown away, what was carried out stays and can be undone. */
export async function giveUpImport(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const at = new Date(ctx.now());
  const problem = 'It could not be worked on and was given up.';
  if (!(await setImport(scope, id, 'fail', { at, problem })))
    await setImport(scope, id, 'stop', { at, problem });
  await writeAudit(ctx, scope, actor, 'import.given-up', id);
  return ok(null);
}

/** Throws an import away that never ran, with its file. */
export async function dropImport(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const dropped = await scope.em.nativeDelete(Import, { id, state: [...DROPPABLE] });
  if (dropped === 0) return conflict('state', 'state: this import ran. Undo it instead.');
  await writeAudit(ctx, scope, actor.name, 'import.dropped', id);
  return ok(null);
}

async function moved(
  ctx: Context,
  scope: Scope,
  id: string,
  event: ImportEvent,
  action: string,
  actor: Actor,
): Promise<Result<ImportRow, Refusal>> {
  const row = await importRow(scope, id);
  if (!row) return notFound('import');
  const begins = row.state === 'checked' && event === 'run';
  const values = { at: new Date(ctx.now()), ...(begins ? { cursor: 0 } : {}) };
  if (!(await setImport(scope, id, event, values)))
    return conflict('state', 'state: it is not at that point any more. Look again.');
  await writeAudit(ctx, scope, actor.name, action, id);
  return ok((await importRow(scope, id))!);
}
