import { decideRow, findingOf } from '@/core/import/decide';
import { addressOf, chatIdOf, plainName, readRow, type NamedThings, type RowPerson } from '@/core/import/row';
import { PERMISSION_WORDS } from '@/core/import/permission';
import { cutText } from '@/core/shared/clean-text';
import { ok } from '@/core/shared/result';
import { showOwnValue, type OwnField } from '@/core/people/values';
import { Stage } from '@/db/people/entities';
import { Workspace } from '@/db/access/entities';
import { saveProgress, setImport, type ImportRow } from '@/db/imports/imports';
import {
  calledTeammates,
  knownPeople,
  linesOfAddresses,
  linesOfPeople,
  type Addresses,
} from '@/db/imports/import-people';
import { countRows, insertRows, type CheckedRow } from '@/db/imports/import-rows';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { dayOf } from '@/core/audience/days';
import type { FileRow, OpenFile } from '@/gateways/files/file-row';
import { fileRows } from '@/gateways/files/rows';
import type { LineLookup } from '@/gateways/lookup';
import type { Context } from '@/services/kit/context';
import { quietly } from '@/services/kit/quietly';
import { ERASED, onKnownOf, SLICE, type Inside } from './slices';
import { ownFields } from '@/services/audience/own-fields';
import { suppressed } from '@/services/people/suppression';

/** What rows are read with. */
async function readingOf(
  ctx: Context,
  scope: Scope,
  row: ImportRow,
): Promise<{ own: ReadonlyMap<string, OwnField>; country: string; named: NamedThings }> {
  const { country, zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const own = new Map<string, OwnField>((await ownFields(scope)).map((field) => [field.key, field]));
  for (const { fresh } of row.mapping) if (fresh) own.set(fresh.key, { ...fresh, options: [] });
  const today = dayOf(ctx.now(), zone);
  return { own, country, named: { ...(await namedThings(scope)), today } };
}

/** Stages and teammates as files may call them. */
async function namedThings(scope: Scope): Promise<NamedThings> {
  const stages = await scope.em.find(Stage, {});
  const owners = await calledTeammates(scope);
  return {
    stages: new Map(stages.map(({ id, name }) => [plainName(name), id])),
    owners: new Map(
      owners.flatMap(({ id, name, email }) => [
        [plainName(name), id],
        [plainName(email), id],
      ]),
    ),
  };
}

/** The trial run: what would become of every row, stored row by row. Nobody is changed. */
export async function tryOut(
  ctx: Context,
  lookup: LineLookup,
  inside: Inside,
  row: ImportRow,
  open: OpenFile,
): Promise<void> {
  const reading = await inside((scope) => readingOf(ctx, scope, row));
  await inside((scope) =>
    scope.run(`delete from import_row where workspace_id = :workspace and import_id = :id`, { id: row.id }),
  );
  const { encoding = 'utf-8' } = row.shape;
  const headerLine = headerLineOf(row);
  let read = 0;
  let held: FileRow[] = [];
  // While the database takes one slice in, the next is read, and looked up. False: the import is no longer being checked.
  let earlier: Promise<boolean> = Promise.resolve(true);
  let under = earlier;
  const flush = async (): Promise<boolean> => {
    const slice = held.map(({ line, cells }) => ({
      ...{
        line,
        raw: cells,
        person: markLeft(row, readRow(cells, row.mapping, reading.own, reading.country, reading.named)),
      },
    }));
    held = [];
    if (!(await earlier)) return false;
    earlier = under;
    read += slice.length;
    const [before, upTo] = [under, read];
    under = quietly(inside((scope) => trySlice(ctx, lookup, scope, row, slice, upTo, before)));
    return true;
  };
  for await (const some of fileRows(open, {
    format: row.format,
    ...{ encoding, delimiter: null, sheet: row.options.sheet ?? 0 },
  })) {
    // The header, and the titles above it.
    held.push(...(headerLine === null ? some : some.filter(({ line }) => line > headerLine)));
    if (held.length >= SLICE && !(await flush())) return;
  }
  if (held.length > 0 && !(await flush())) return;
  if (!(await under)) return;
  await inside(async (scope) => {
    await countRows(scope, row.id);
    await setImport(scope, row.id, 'tried', { at: new Date(ctx.now()), cursor: 0 });
    await announce(scope, false);
  });
}

/** A file of those who left says so of every row. */
const markLeft = ({ options }: ImportRow, read: ReturnType<typeof readRow>): ReturnType<typeof readRow> =>
  read.ok && options.left ? ok({ ...read.value, permission: 'left' }) : read;

/** Where the header stands; one that was read before this was told stands first. */
const headerLineOf = ({ shape: { headerLine, header }, format }: ImportRow): number | null =>
  headerLine === undefined ? (header ? (format === 'vcard' ? 0 : 1) : null) : headerLine;

/** A row of the file, and what it says. */
interface ReadRow {
  line: number;
  raw: readonly string[];
  person: ReturnType<typeof readRow>;
}

/** By what somebody is known, in the column of its kind. */
function standsIn(person: RowPerson): Pick<CheckedRow, 'number' | 'email' | 'chat'> {
  const { number, email } = person;
  if (number !== null) return { number, email: null, chat: null };
  return email === undefined
    ? { number, email: null, chat: chatIdOf(person) ?? null }
    : { number, email, chat: null };
}

const ADDRESS_WORDS = { number: 'number', email: 'e-mail address', chat: 'chat id' } as const;

/** By what people of a slice are known, each once. */
function addressesOf(people: readonly ReadRow[]): Addresses {
  const all = people.flatMap(({ person }) => (person.ok ? [standsIn(person.value)] : []));
  const of = (kind: keyof typeof ADDRESS_WORDS) => [
    ...new Set(all.flatMap((one) => (one[kind] === null ? [] : [one[kind]]))),
  ];
  return { numbers: of('number'), emails: of('email'), chats: of('chat') };
}

/** What is stored of a row that brings nobody. */
const nobodyFrom = (
  line: number,
  verdict: CheckedRow['verdict'],
  finding: CheckedRow['finding'],
  told: string,
): CheckedRow => ({
  ...{ line, verdict, finding, told },
  ...{ number: null, email: null, chat: null, personId: null, lineType: null, data: null, changes: null },
  left: false,
});

/** It keeps its address: by that it goes when somebody is erased. */
const twice = (
  line: number,
  where: Pick<CheckedRow, 'number' | 'email' | 'chat'>,
  told: string,
  left: boolean,
): CheckedRow => ({
  ...nobodyFrom(line, 'duplicate', 'duplicate in file', left ? `${told}; ${PERMISSION_WORDS.left}` : told),
  ...where,
  left,
});

/** What a row that is left out says beside its address: nobody gets it. */
function whatIsLost({ number, email, first_name, last_name, fields, tags }: RowPerson): string {
  const values = [
    [first_name, last_name].filter(Boolean).join(' '),
    number === null ? '' : (email ?? ''),
    ...Object.values(fields).map((value) => showOwnValue(value)),
    ...tags,
  ].filter(Boolean);
  return values.length === 0 ? '' : `; left out with it: ${cutText(values.join(', '), 200)}`;
}

interface Checking {
  ctx: Context;
  row: ImportRow;
  known: Awaited<ReturnType<typeof knownPeople>>;
  erased: ReadonlySet<string>;
  types: Awaited<ReturnType<LineLookup['lookUp']>>;
  /** The row in which an address, and a person, stood first; added to with every row. */
  firstLines: Map<string, number>;
  peopleLines: Map<string, number>;
}

/** Says of one row after another what would become of it. */
function checker({
  ctx,
  row,
  known,
  erased,
  types,
  firstLines,
  peopleLines,
}: Checking): (read: ReadRow) => CheckedRow {
  const at = row.mapping.findIndex(({ to }) => to === 'number');
  return ({ line, person, raw }) => {
    if (!person.ok)
      return nobodyFrom(line, 'invalid', 'invalid', `“${cutText(raw[at] ?? '', 60)}”: ${person.reason}`);
    const { number, told, ...data } = person.value;
    const lost = whatIsLost(person.value);
    const left = person.value.permission === 'left';
    const address = addressOf(person.value)!;
    const where = standsIn(person.value);
    const kind = where.number !== null ? 'number' : where.email !== null ? 'email' : 'chat';
    const before = firstLines.get(address);
    if (before !== undefined)
      return twice(line, where, `the same ${ADDRESS_WORDS[kind]} as row ${before}${lost}`, left);
    firstLines.set(address, line);
    const here = known.get(address) ?? null;
    const theirs = peopleLines.get(here?.id ?? '');
    if (theirs !== undefined)
      return twice(
        line,
        where,
        `the same person as row ${theirs}, by another address of theirs${lost}`,
        left,
      );
    if (here && !here.shared) peopleLines.set(here.id, line);
    const { verdict, changes } = decideRow(person.value, here ?? (erased.has(address) ? ERASED : null), {
      onKnown: onKnownOf(row.options),
      otherName: 'ask',
    });
    const lineType = number === null ? null : (types.get(number) ?? here?.lineType ?? null);
    return {
      line,
      verdict,
      ...where,
      left,
      personId: verdict === 'add' ? ctx.id('per') : (here?.id ?? null),
      lineType,
      finding: findingOf(verdict, {
        ...{ lineType, number, email: where.email, permission: person.value.permission },
        ...{ attested: row.options.consent !== null, agreed: here?.consent === 'in' },
      }),
      told:
        [...(here?.shared ? [`several people have this ${ADDRESS_WORDS[kind]}`] : []), ...told].join('; ') ||
        null,
      data,
      changes: Object.keys(changes).length > 0 ? changes : null,
    };
  };
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
  const addresses = addressesOf(people);
  const { numbers, emails, chats } = addresses;
  const known = await knownPeople(scope, addresses, row.options.program);
  const erased = await suppressed(scope, [...numbers, ...emails, ...chats]);
  const types = await lookup.lookUp(
    numbers.filter((number) => (known.get(number)?.lineType ?? 'unknown') === 'unknown'),
  );
  // Whether a number or a person came before in the file is known once all before is written.
  if (!(await before)) return false;
  const firstLines = await linesOfAddresses(scope, row.id, addresses);
  const peopleLines = await linesOfPeople(scope, row.id, [
    ...new Set([...known.values()].map(({ id }) => id)),
  ]);
  const check = checker({ ctx, row, known, erased, types, firstLines, peopleLines });
  await insertRows(scope, row.id, people.map(check));
  const goes = await saveProgress(scope, row.id, 'checking', {
    cursor: 0,
    rows: read,
    at: new Date(ctx.now()),
  });
  await announce(scope, false);
  return goes;
}
