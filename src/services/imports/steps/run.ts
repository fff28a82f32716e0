import { admit, asPerson, fold, NO_CONSENT, type Consent } from '@/core/consent/ledger';
import { bringsConsent, decideRow, findingOf, type Changes, type Verdict } from '@/core/import/decide';
import type { FurtherAddress, RowPerson } from '@/core/import/row';
import type { Permission } from '@/core/import/permission';
import { placeColumns, placeOf } from '@/core/phone/place';
import { insertConsents, consentsOf, type NewConsentEvent } from '@/db/consent/consent';
import { importRow, saveProgress, setImport, waitAtMost, type ImportRow } from '@/db/imports/imports';
import {
  changePeople,
  insertPeople,
  knownPeople,
  labelPeople,
  stopPeople,
  type Addresses,
  type KnownByAddress,
  type PersonChange,
  type PlainColumn,
} from '@/db/imports/import-people';
import {
  correctRows,
  countRows,
  labelsOfRows,
  leftInDuplicates,
  rowsToDo,
  type StoredRow,
} from '@/db/imports/import-rows';
import { addFurther } from '@/db/people/addresses';
import type { Channel } from '@/core/message/channel';
import { writeHappenings } from '@/db/kit/happenings';
import { announce, cancelQueued } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { quietly } from '@/services/kit/quietly';
import { ERASED, onKnownOf, SLICE, Stopped, type Inside } from './slices';
import { findOrMakeLabel } from '@/services/people/labels';
import { suppressed } from '@/services/people/suppression';
import { leaveAll } from '@/services/consent/record-consent';

/** Slices under way at once: while the database writes one, another of its processes writes the next. */
const LANES = 2;

/** The run. What the trial said is decided once more, slice by slice, on how things stand now. */
export async function carryOut(ctx: Context, inside: Inside, row: ImportRow): Promise<void> {
  await inside((scope) => makeFreshFields(ctx, scope, row));
  const labels = await inside((scope) => makeLabels(ctx, scope, row));
  const beside = { labels, left: await inside((scope) => leftBeside(scope, row)) };
  try {
    await carryOutSlices(ctx, inside, row, beside, LANES);
  } catch (error) {
    if ((error as { code?: string }).code !== LOCK_TIMEOUT) throw error;
    // Two slices met at one person, which is rare: the rest goes one after the other.
    const now = await inside((scope) => importRow(scope, row.id));
    await carryOutSlices(ctx, inside, now!, beside, 1);
  }
  await inside(async (scope) => {
    await countRows(scope, row.id);
    await setImport(scope, row.id, 'settle', {
      at: new Date(ctx.now()),
    });
    await announce(scope, false);
  });
}

/** What every slice of an import needs to know. */
interface Beside {
  labels: ReadonlyMap<string, string>;
  /** Addresses, and people, of whom a row that is left out says that they left. */
  left: ReadonlySet<string>;
}

/** A second row of somebody is left out; that they left, if it says so, is not. */
async function leftBeside(scope: Scope, row: ImportRow): Promise<Set<string>> {
  const rows = await leftInDuplicates(scope, row.id);
  const known = await knownPeople(scope, addressesIn(rows), row.options.program);
  return new Set([
    ...rows.map(({ number, email, chat }) => (number ?? email ?? chat)!),
    ...[...known.values()].filter(({ shared }) => !shared).map(({ id }) => id),
  ]);
}

const addressesIn = (rows: readonly Pick<StoredRow, 'number' | 'email' | 'chat'>[]): Addresses => ({
  numbers: rows.flatMap(({ number }) => (number === null ? [] : [number])),
  emails: rows.flatMap(({ email }) => (email === null ? [] : [email])),
  chats: rows.flatMap(({ chat }) => (chat === null ? [] : [chat])),
});

/**
 * Slices side by side that commit in their order: each waits for the one before, so that the cursor always says how
 * far everything is done.
 */
async function carryOutSlices(
  ctx: Context,
  inside: Inside,
  row: ImportRow,
  beside: Beside,
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
      last = quietly(
        inside(async (scope) => {
          // Who waits in here for the slice before is not seen by the database, should that one wait for us.
          if (lanes > 1) await waitAtMost(scope, PATIENCE_MS);
          await runSlice(ctx, scope, row, stored, beside);
          await before;
          const goes = await saveProgress(scope, row.id, 'running', {
            ...{ cursor: stored.at(-1)!.line, rows: null, at: new Date(ctx.now()) },
          });
          if (!goes) throw new Stopped();
          await announce(scope, false);
        }),
      );
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
  known: KnownByAddress | null;
  verdict: Verdict;
  /** What the file says of texts to them. */
  permission: Permission | undefined;
  /** What it changes, of an update. */
  changes: Changes;
  personId: string;
}

async function runSlice(
  ctx: Context,
  scope: Scope,
  row: ImportRow,
  stored: readonly StoredRow[],
  { labels, left }: Beside,
): Promise<void> {
  const at = new Date(ctx.now());
  let decided = await decideSlice(scope, row, stored, left);
  const added = await insertPeople(
    scope,
    decided.filter(({ verdict }) => verdict === 'add').map(newPerson),
    `import ${row.name}`,
    at,
  );
  // Somebody else added these in between: they are here now, and decided like anybody who is.
  if (decided.some(({ verdict, personId }) => verdict === 'add' && !added.has(personId)))
    decided = (await decideSlice(scope, row, stored, left)).map((one) =>
      added.has(one.stored.person_id ?? '')
        ? { ...one, verdict: 'add' as const, personId: one.stored.person_id! }
        : one,
    );
  await changePeople(scope, decided.filter(({ verdict }) => verdict === 'update').map(changeOf), at);
  const touched = decided.filter(
    ({ verdict }) => verdict === 'add' || verdict === 'update' || verdict === 'same',
  );
  await addFurther(
    scope,
    touched.flatMap(({ personId, stored }) =>
      [...(stored.data.further ?? []), ...chatOfRow(row, stored)].map(({ kind, value }) => ({
        personId,
        kind,
        value,
      })),
    ),
    at,
  );
  await writeHappenings(
    scope,
    touched.map(({ personId, verdict }) => ({
      ...{ kind: 'person.imported' as const, personId, subject: row.id, at, detail: { verdict } },
    })),
  );
  await putLabels(scope, row, labels, touched, at);
  await putConsent(ctx, scope, row, touched, at);
  await letGo(
    ctx,
    scope,
    row,
    decided.filter(
      ({ verdict, permission }) => verdict === 'left' || (verdict === 'add' && permission === 'left'),
    ),
  );
  await correctRows(
    scope,
    row.id,
    decided
      .filter(({ stored: one, verdict, personId }) => one.verdict !== verdict || one.person_id !== personId)
      .map(correctionOf(row)),
  );
}

async function decideSlice(
  scope: Scope,
  row: ImportRow,
  stored: readonly StoredRow[],
  left: ReadonlySet<string>,
): Promise<Carried[]> {
  const addresses = addressesIn(stored);
  const known = await knownPeople(scope, addresses, row.options.program, true);
  const erased = await suppressed(scope, [...addresses.numbers, ...addresses.emails, ...addresses.chats]);
  return stored.map((one) => {
    const address = one.number ?? one.email ?? one.chat!;
    const here = known.get(address) ?? null;
    const permission =
      left.has(address) || (here && left.has(here.id)) ? ('left' as const) : one.data.permission;
    const person: RowPerson = {
      ...one.data,
      ...(permission ? { permission } : {}),
      // Rows that were tried by an earlier version know no further addresses.
      further: one.data.further ?? [],
      number: one.number as RowPerson['number'],
      told: [],
    };
    const { verdict, changes } = decideRow(person, here ?? (erased.has(address) ? ERASED : null), {
      onKnown: onKnownOf(row.options),
      // Nobody said whose it is: then it is not theirs.
      otherName: one.choice ?? 'leave',
    });
    return { stored: one, known: here, verdict, permission, changes, personId: here?.id ?? one.person_id! };
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
      zone: stored.data.zone ?? null,
      region: stored.data.region ?? null,
      postalCode: stored.data.postal_code ?? null,
    }),
  ),
});

function changeOf({ known, stored, changes }: Carried) {
  const set = Object.entries(changes).map(([name, [, after]]) => [name, after] as const);
  const plain = Object.fromEntries(set.filter(([name]) => !/^(?:own|further)\./.test(name)));
  const fields = set.flatMap(([name, after]) => (name.startsWith('own.') ? [[name.slice(4), after]] : []));
  const at = (column: PlainColumn, now: string | null) => (column in plain ? String(plain[column]) : now);
  return {
    ...{ id: known!.id, plain: plain as PersonChange['plain'], fields: Object.fromEntries(fields) },
    ...placeColumns(
      placeOf({
        number: known!.number ?? stored.number,
        zone: at('zone', known!.zone),
        region: at('region', known!.region),
        postalCode: at('postal_code', known!.postalCode),
      }),
    ),
  };
}

const correctionOf =
  (row: ImportRow) =>
  ({ stored, known, verdict, permission, changes, personId }: Carried) => ({
    line: stored.line,
    verdict,
    personId: verdict === 'add' || known ? personId : null,
    changes: verdict === 'update' ? changes : null,
    finding: findingOf(verdict, {
      ...{ lineType: stored.line_type, number: stored.number, email: stored.email, permission },
      ...{ attested: row.options.consent !== null, agreed: known?.consent === 'in' },
    }),
  });

const listsOf = ({ options: { list } }: ImportRow): string[] => (list ? [list] : []);

const labelKey = (kind: 'tag' | 'list', name: string): string => `${kind} ${name}`;

/** All tags and the list of an import, by `labelKey`: made at once, so that no two slices wait for each other over one. */
async function makeLabels(ctx: Context, scope: Scope, row: ImportRow): Promise<Map<string, string>> {
  const ids = new Map<string, string>();
  const make = async (kind: 'tag' | 'list', name: string) => {
    const label = await findOrMakeLabel(ctx, scope, kind, name, row.created_by ?? 'import');
    if (label.ok) ids.set(labelKey(kind, name), label.value.id);
  };
  for (const tag of new Set([...row.options.tags, ...(await labelsOfRows(scope, row.id, 'tags'))]))
    await make('tag', tag);
  for (const list of new Set([...listsOf(row), ...(await labelsOfRows(scope, row.id, 'lists'))]))
    await make('list', list);
  return ids;
}

async function putLabels(
  scope: Scope,
  row: ImportRow,
  labels: ReadonlyMap<string, string>,
  touched: readonly Carried[],
  at: Date,
): Promise<void> {
  const common = [
    ...row.options.tags.map((tag) => labelKey('tag', tag)),
    ...listsOf(row).map((list) => labelKey('list', list)),
  ];
  const pairs = touched.flatMap(({ stored, personId }) =>
    [
      ...common,
      ...stored.data.tags.map((tag) => labelKey('tag', tag)),
      ...(stored.data.lists ?? []).map((list) => labelKey('list', list)),
    ].flatMap((key) => {
      const label = labels.get(key);
      return label ? [{ label, person: personId }] : [];
    }),
  );
  await labelPeople(scope, pairs, row.id, at);
}

/**
 * Consent as it was attested, for those whose ledger admits it and whose row does not say otherwise: never for who
 * opted out.
 */
async function putConsent(
  ctx: Context,
  scope: Scope,
  row: ImportRow,
  touched: readonly Carried[],
  at: Date,
): Promise<void> {
  const { program, consent } = row.options;
  if (!program || !consent) return;
  const attested = {
    wording: consent.wording,
    source: `import ${row.name}`,
    importId: row.id,
    recordedBy: row.created_by ?? 'API',
  };
  const agreeing = touched.filter(({ permission }) => bringsConsent(permission));
  const people = agreeing.map(({ personId }) => personId);
  for (const channel of consent.channels ?? ['sms']) {
    const states = await consentsOf(scope, people, program, channel);
    const entries: { event: NewConsentEvent; next: Consent }[] = [];
    for (const { personId, stored } of agreeing) {
      const address = ADDRESS_IN_ROW[channel](stored);
      if (address === null) continue;
      const consents = states.get(personId);
      const current = consents?.byAddress.get(address) ?? NO_CONSENT;
      // The day their row tells is nearer to the truth than the one that holds for all.
      const evidence = { ...attested, obtainedAt: stored.data.agreed_on ?? consent.date };
      if (
        !admit(asPerson(current, consents?.spoken ?? null), { kind: 'opted-in', method: 'import', evidence })
          .ok
      )
        continue;
      const event = {
        ...{ id: ctx.id('con'), personId, programId: program, channel, address, evidence, at },
        ...{ kind: 'opted-in' as const, method: 'import' as const },
      };
      entries.push({ event, next: fold(current, { ...event, at: at.getTime() }) });
    }
    await insertConsents(scope, entries);
  }
}

/** Whoever the file says has left is out of everything, and what waits for them is called back. */
async function letGo(ctx: Context, scope: Scope, row: ImportRow, leavers: readonly Carried[]): Promise<void> {
  if (leavers.length === 0) return;
  const people = leavers.map(({ personId }) => personId);
  const at = new Date(ctx.now());
  const evidence = {
    ...{ source: `import ${row.name}`, why: 'the file says that they left or want no texts' },
    ...{ importId: row.id, recordedBy: row.created_by ?? 'API' },
  };
  await leaveAll(ctx, scope, people, { method: 'import', evidence });
  await stopPeople(scope, people, at);
  for (const { known, personId } of leavers) if (known) await cancelQueued(scope, personId, at);
}

/** The address of a row that agrees, when agreement by a channel is attested for the file. */
const ADDRESS_IN_ROW: Record<Channel, (row: StoredRow) => string | null> = {
  // A landline gets no text: nothing is agreed to by it.
  sms: ({ number, line_type }) => (line_type === 'landline' ? null : number),
  email: ({ data }) => data.email ?? null,
  // A chat contact is known by a number where no other id of theirs stands in the row.
  chat: ({ data, number, line_type }) =>
    data.further?.find(({ kind }) => kind === 'chat')?.value ?? (line_type === 'landline' ? null : number),
  // A landline may have a box.
  voicemail: ({ number }) => number,
};

/** Who agreed to chat by their number alone is reached there by it. */
function chatOfRow({ options: { consent } }: ImportRow, stored: StoredRow): FurtherAddress[] {
  if (!consent?.channels?.includes('chat')) return [];
  const value = ADDRESS_IN_ROW.chat(stored);
  return value === null ? [] : [{ kind: 'chat', value }];
}
