import { admit, fold, NO_CONSENT, type Consent } from '@/core/consent/ledger';
import { decideRow, findingOf, type KnownPerson, type Verdict } from '@/core/import/decide';
import { guessColumns, isHeader } from '@/core/import/columns';
import { readRow, type RowPerson } from '@/core/import/row';
import type { OwnField } from '@/core/people/values';
import { placeColumns, placeOf } from '@/core/phone/place';
import { Workspace } from '@/db/entities';
import { insertConsents, consentsOf, type NewConsentEvent } from '@/db/queries/consent';
import {
  changePeople,
  correctRows,
  countRows,
  importRow,
  importsToDo,
  insertPeople,
  insertRows,
  knownPeople,
  labelPeople,
  linesOfNumbers,
  linesOfPeople,
  lockImport,
  readChunk,
  rowsToDo,
  saveProgress,
  saveShape,
  setImport,
  tagsOfRows,
  waitAtMost,
  type CheckedRow,
  type ImportRow,
  type KnownByNumber,
  type StoredRow,
} from '@/db/queries/imports';
import { announce } from '@/db/queries/texts';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/scope';
import { detectEncoding, UnreadableFile } from '@/gateways/files/detect';
import type { FileRow, OpenFile } from '@/gateways/files/file-row';
import { fileRows } from '@/gateways/files/rows';
import type { LineLookup } from '@/gateways/lookup';
import type { Context } from './context';
import { findOrMakeLabel } from './labels';
import { ownFields } from './own-fields';
import { suppressed } from './suppression';
import { undoSlice } from './undo-import';

/**
 * The background work of imports: reading the beginning of a file, the trial run, the run, the undoing. Each goes on
 * slice by slice; a slice and how far it is commit together, so that a worker that dies is followed by another
 * that goes on after the last whole slice.
 */
export async function advanceImports(ctx: Context, lookup: LineLookup): Promise<void> {
  const todo = await acrossWorkspaces(ctx.orm, importsToDo);
  for (const { id, workspace_id: workspaceId } of todo)
    await acrossWorkspaces(ctx.orm, async (crossing) => {
      if (!(await lockImport(crossing, id))) return;
      const inside: Inside = (work) => inWorkspace(ctx.orm, workspaceId, work);
      try {
        await advance(ctx, lookup, inside, id);
      } catch (error) {
        if (error instanceof Stopped) return;
        if (!(error instanceof UnreadableFile)) throw error;
        await inside(async (scope) => {
          await setImport(scope, id, ['draft', 'checking'], {
            state: 'failed',
            at: new Date(ctx.now()),
            problem: error.message,
          });
          await announce(scope, false);
        });
      }
    });
}

type Inside = <T>(work: (scope: Scope) => Promise<T>) => Promise<T>;

async function advance(ctx: Context, lookup: LineLookup, inside: Inside, id: string): Promise<void> {
  const row = await inside((scope) => importRow(scope, id));
  if (!row) return;
  if (row.state === 'draft') await readShape(ctx, inside, row);
  if (row.state === 'checking') await tryOut(ctx, lookup, inside, row);
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
      sample: sample.slice(0, 8).map((cells) => cells.map((cell) => cell.slice(0, 200))),
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

/** What rows are read with. */
async function readingOf(
  scope: Scope,
  row: ImportRow,
): Promise<{ own: ReadonlyMap<string, OwnField>; country: string }> {
  const { country } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const own = new Map<string, OwnField>((await ownFields(scope)).map((field) => [field.key, field]));
  for (const { fresh } of row.mapping) if (fresh) own.set(fresh.key, { ...fresh, options: [] });
  return { own, country };
}

const SLICE = 2_000;

/** The trial run: what would become of every row, stored row by row. Nobody is changed. */
async function tryOut(ctx: Context, lookup: LineLookup, inside: Inside, row: ImportRow): Promise<void> {
  const reading = await inside((scope) => readingOf(scope, row));
  await inside((scope) =>
    scope.run(`delete from import_row where workspace_id = :workspace and import_id = :id`, { id: row.id }),
  );
  const { encoding = 'utf-8', header } = row.shape;
  let read = 0;
  let skip = header ? 1 : 0;
  let held: FileRow[] = [];
  // While the database takes one slice in, the next is read, and looked up. False: the import is no longer being checked.
  let earlier: Promise<boolean> = Promise.resolve(true);
  let under = earlier;
  const flush = async (): Promise<boolean> => {
    const slice = held.map(({ line, cells }) => ({
      ...{ line, raw: cells, person: readRow(cells, row.mapping, reading.own, reading.country) },
    }));
    held = [];
    if (!(await earlier)) return false;
    earlier = under;
    read += slice.length;
    const [before, upTo] = [under, read];
    under = inside((scope) => trySlice(ctx, lookup, scope, row, slice, upTo, before));
    // A failure is met where it is awaited; until then it must not count as nobody's.
    under.catch(() => undefined);
    return true;
  };
  for await (const some of fileRows(fileOf(inside, row.id), {
    format: row.format,
    encoding,
    delimiter: null,
  })) {
    held.push(...some.slice(skip));
    skip = Math.max(0, skip - some.length);
    if (held.length >= SLICE && !(await flush())) return;
  }
  if (held.length > 0 && !(await flush())) return;
  if (!(await under)) return;
  await inside(async (scope) => {
    await countRows(scope, row.id);
    await setImport(scope, row.id, ['checking'], { state: 'checked', at: new Date(ctx.now()), cursor: 0 });
    await announce(scope, false);
  });
}

/** A row of the file, and what it says. */
interface ReadRow {
  line: number;
  raw: readonly string[];
  person: ReturnType<typeof readRow>;
}

/** False when the import is no longer being checked. */
async function trySlice(
  ctx: Context,
  lookup: LineLookup,
  scope: Scope,
  row: ImportRow,
  people: readonly ReadRow[],
  read: number,
  before: Promise<boolean>,
): Promise<boolean> {
  const numbers = [...new Set(people.flatMap(({ person }) => (person.ok ? [person.value.number] : [])))];
  const known = await knownPeople(scope, numbers, row.options.program);
  const erased = await suppressed(scope, numbers);
  const types = await lookup.lookUp(
    numbers.filter((number) => (known.get(number)?.lineType ?? 'unknown') === 'unknown'),
  );
  // Whether a number or a person came before in the file is known once all before is written.
  if (!(await before)) return false;
  const firstLines = await linesOfNumbers(scope, row.id, numbers);
  const peopleLines = await linesOfPeople(scope, row.id, [
    ...new Set([...known.values()].map(({ id }) => id)),
  ]);
  const checked = people.map(({ line, person, raw }): CheckedRow => {
    const at = row.mapping.findIndex(({ to }) => to === 'number');
    const blank = { line, number: null, personId: null, lineType: null, data: null, changes: null };
    if (!person.ok)
      return {
        ...blank,
        verdict: 'invalid',
        finding: 'invalid',
        told: `“${(raw[at] ?? '').slice(0, 60)}”: ${person.reason}`,
      };
    const { number, told, ...data } = person.value;
    const before = firstLines.get(number);
    if (before !== undefined)
      return {
        ...blank,
        number: null,
        verdict: 'duplicate',
        finding: 'duplicate in file',
        told: `the same number as row ${before}: ${number}`,
      };
    firstLines.set(number, line);
    const theirs = peopleLines.get(known.get(number)?.id ?? '');
    if (theirs !== undefined)
      return {
        ...blank,
        verdict: 'duplicate',
        finding: 'duplicate in file',
        told: `the same person as row ${theirs}, who was merged with ${number}`,
      };
    if (known.has(number)) peopleLines.set(known.get(number)!.id, line);
    const here = known.get(number) ?? (erased.has(number) ? ERASED : null);
    const { verdict, changes } = decideRow(person.value, here, row.options.update);
    const lineType = types.get(number) ?? known.get(number)?.lineType ?? null;
    return {
      line,
      verdict,
      number,
      personId: verdict === 'add' ? ctx.id('per') : (known.get(number)?.id ?? null),
      lineType,
      finding: findingOf(
        verdict,
        lineType,
        row.options.consent !== null || known.get(number)?.consent === 'in',
      ),
      told: told.length > 0 ? told.join('; ') : null,
      data,
      changes: Object.keys(changes).length > 0 ? changes : null,
    };
  });
  await insertRows(scope, row.id, checked);
  const goes = await saveProgress(scope, row.id, 'checking', {
    cursor: 0,
    rows: read,
    at: new Date(ctx.now()),
  });
  await announce(scope, false);
  return goes;
}

const ERASED: KnownPerson = {
  id: '',
  firstName: null,
  lastName: null,
  email: null,
  region: null,
  postalCode: null,
  fields: {},
  stopped: false,
  consent: 'none',
  erased: true,
};

/** Slices under way at once: while the database writes one, another of its processes writes the next. */
const LANES = 2;

/** The run. What the trial said is decided once more, slice by slice, on how things stand now. */
async function carryOut(ctx: Context, inside: Inside, row: ImportRow): Promise<void> {
  await inside((scope) => makeFreshFields(ctx, scope, row));
  const labels = await inside((scope) => makeLabels(ctx, scope, row));
  try {
    await carryOutSlices(ctx, inside, row, labels, LANES);
  } catch (error) {
    if ((error as { code?: string }).code !== LOCK_TIMEOUT) throw error;
    // Two slices met at one person, which is rare: the rest goes one after the other.
    const now = await inside((scope) => importRow(scope, row.id));
    await carryOutSlices(ctx, inside, now!, labels, 1);
  }
  await inside(async (scope) => {
    await countRows(scope, row.id);
    await setImport(scope, row.id, ['running'], {
      state: 'finished',
      at: new Date(ctx.now()),
      finished: true,
    });
    await announce(scope, false);
  });
}

/**
 * Slices side by side that commit in their order: each waits for the one before, so that the cursor always says how
 * far everything is done.
 */
async function carryOutSlices(
  ctx: Context,
  inside: Inside,
  row: ImportRow,
  labels: ReadonlyMap<string, string>,
  lanes: number,
): Promise<void> {
  const open: Promise<void>[] = [];
  let last: Promise<void> = Promise.resolve();
  try {
    for (let cursor = row.cursor; ;) {
      const stored = await inside((scope) => rowsToDo(scope, row.id, cursor, SLICE));
      if (stored.length === 0) break;
      cursor = stored.at(-1)!.line;
      const before = last;
      last = inside(async (scope) => {
        // Who waits in here for the slice before is not seen by the database, should that one wait for us.
        if (lanes > 1) await waitAtMost(scope, PATIENCE_MS);
        await runSlice(ctx, scope, row, stored, labels);
        await before;
        const goes = await saveProgress(scope, row.id, 'running', {
          ...{ cursor: stored.at(-1)!.line, rows: null, at: new Date(ctx.now()) },
        });
        if (!goes) throw new Stopped();
        await announce(scope, false);
      });
      open.push(last);
      if (open.length >= lanes) await open.shift();
    }
    await last;
  } finally {
    await Promise.allSettled(open);
  }
}

const PATIENCE_MS = 2_000;
const LOCK_TIMEOUT = '55P03';

const makeFreshFields = async (ctx: Context, scope: Scope, row: ImportRow): Promise<void> => {
  for (const { fresh } of row.mapping)
    if (fresh)
      await scope.run(
        `insert into field (id, workspace_id, key, label, kind, position, created_at)
         values (:id, :workspace, :key, :label, :kind, (select coalesce(max(position), 0) + 1 from field where workspace_id = :workspace), :at) on conflict do nothing`,
        { id: ctx.id('fld'), ...fresh, at: new Date(ctx.now()) },
      );
};

interface Carried {
  stored: StoredRow;
  known: KnownByNumber | null;
  verdict: Verdict;
  personId: string;
}

async function runSlice(
  ctx: Context,
  scope: Scope,
  row: ImportRow,
  stored: readonly StoredRow[],
  labels: ReadonlyMap<string, string>,
): Promise<void> {
  const at = new Date(ctx.now());
  let decided = await decideSlice(scope, row, stored);
  const added = await insertPeople(
    scope,
    decided.filter(({ verdict }) => verdict === 'add').map(newPerson),
    `import ${row.name}`,
    at,
  );
  // Somebody else added these in between: they are here now, and decided like anybody who is.
  if (decided.some(({ verdict, personId }) => verdict === 'add' && !added.has(personId)))
    decided = (await decideSlice(scope, row, stored)).map((one) =>
      added.has(one.stored.person_id ?? '')
        ? { ...one, verdict: 'add' as const, personId: one.stored.person_id! }
        : one,
    );
  await changePeople(scope, decided.filter(({ verdict }) => verdict === 'update').map(changeOf));
  const touched = decided.filter(
    ({ verdict }) => verdict === 'add' || verdict === 'update' || verdict === 'same',
  );
  await putLabels(scope, row, labels, touched, at);
  await putConsent(ctx, scope, row, touched, at);
  await correctRows(
    scope,
    row.id,
    decided
      .filter(({ stored: one, verdict, personId }) => one.verdict !== verdict || one.person_id !== personId)
      .map(correctionOf(row)),
  );
}

/** Raised so that the slice during which somebody stopped the import is rolled back whole. */
class Stopped extends Error {}

async function decideSlice(scope: Scope, row: ImportRow, stored: readonly StoredRow[]): Promise<Carried[]> {
  const numbers = stored.map(({ number }) => number);
  const known = await knownPeople(scope, numbers, row.options.program, true);
  const erased = await suppressed(scope, numbers);
  return stored.map((one) => {
    const here = known.get(one.number) ?? null;
    const person: RowPerson = { ...one.data, number: one.number as RowPerson['number'], told: [] };
    const { verdict } = decideRow(
      person,
      here ?? (erased.has(one.number) ? ERASED : null),
      row.options.update,
    );
    return { stored: one, known: here, verdict, personId: here?.id ?? one.person_id! };
  });
}

const newPerson = ({ stored }: Carried) => ({
  id: stored.person_id!,
  number: stored.number,
  data: stored.data,
  lineType: stored.line_type ?? 'unknown',
  ...placeColumns(
    placeOf({
      number: stored.number,
      region: stored.data.region ?? null,
      postalCode: stored.data.postal_code ?? null,
    }),
  ),
});

function changeOf({ stored, known }: Carried) {
  const { first_name, last_name, email, region, postal_code, fields } = stored.data;
  const given = Object.fromEntries(
    Object.entries({ first_name, last_name, email, region, postal_code }).filter(
      ([, value]) => value !== undefined,
    ),
  );
  return {
    id: known!.id,
    plain: given,
    fields,
    ...placeColumns(
      placeOf({
        number: stored.number,
        zone: known!.zone,
        region: region ?? known!.region,
        postalCode: postal_code ?? known!.postalCode,
      }),
    ),
  };
}

const correctionOf =
  (row: ImportRow) =>
  ({ stored, known, verdict, personId }: Carried) => ({
    line: stored.line,
    verdict,
    personId: verdict === 'add' || known ? personId : null,
    changes: stored.changes,
    finding: findingOf(verdict, stored.line_type, row.options.consent !== null || known?.consent === 'in'),
  });

const labelKey = (kind: 'tag' | 'list', name: string): string => `${kind} ${name}`;

/** All tags and the list of an import, by `labelKey`: made at once, so that no two slices wait for each other over one. */
async function makeLabels(ctx: Context, scope: Scope, row: ImportRow): Promise<Map<string, string>> {
  const ids = new Map<string, string>();
  const make = async (kind: 'tag' | 'list', name: string) => {
    const label = await findOrMakeLabel(ctx, scope, kind, name, row.created_by ?? 'import');
    if (label.ok) ids.set(labelKey(kind, name), label.value.id);
  };
  for (const tag of new Set([...row.options.tags, ...(await tagsOfRows(scope, row.id))]))
    await make('tag', tag);
  if (row.options.list) await make('list', row.options.list);
  return ids;
}

async function putLabels(
  scope: Scope,
  row: ImportRow,
  labels: ReadonlyMap<string, string>,
  touched: readonly Carried[],
  at: Date,
): Promise<void> {
  const { tags, list } = row.options;
  const common = [...tags.map((tag) => labelKey('tag', tag)), ...(list ? [labelKey('list', list)] : [])];
  const pairs = touched.flatMap(({ stored, personId }) =>
    [...common, ...stored.data.tags.map((tag) => labelKey('tag', tag))].flatMap((key) => {
      const label = labels.get(key);
      return label ? [{ label, person: personId }] : [];
    }),
  );
  await labelPeople(scope, pairs, row.id, at);
}

/** Consent as it was attested, for those whose ledger admits it: never for who opted out. */
async function putConsent(
  ctx: Context,
  scope: Scope,
  row: ImportRow,
  touched: readonly Carried[],
  at: Date,
): Promise<void> {
  const { program, consent } = row.options;
  if (!program || !consent) return;
  const states = await consentsOf(
    scope,
    touched.map(({ personId }) => personId),
    program,
  );
  const evidence = {
    wording: consent.wording,
    obtainedAt: consent.date,
    source: `import ${row.name}`,
    importId: row.id,
    recordedBy: row.created_by ?? 'API',
  };
  const events: { event: NewConsentEvent; next: Consent }[] = [];
  for (const { personId } of touched) {
    const current = states.get(personId) ?? NO_CONSENT;
    if (!admit(current, { kind: 'opted-in', method: 'import', evidence }).ok) continue;
    const id = ctx.id('con');
    const event = {
      id,
      personId,
      programId: program,
      channel: 'sms' as const,
      kind: 'opted-in' as const,
      method: 'import' as const,
      evidence,
      at,
    };
    events.push({ event, next: fold(current, { id, kind: 'opted-in', method: 'import', at: at.getTime() }) });
  }
  await insertConsents(scope, events);
}
