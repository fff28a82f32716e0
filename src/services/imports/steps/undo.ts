import type { Changes } from '@/core/import/decide';
import { sameValue } from '@/core/shared/json';
import type { OwnValues } from '@/core/people/values';
import { placeColumns, placeOf } from '@/core/phone/place';
import { setImport, type ImportRow } from '@/db/imports/imports';
import {
  changePeople,
  dropUnusedFields,
  dropUnusedLabels,
  type PersonChange,
} from '@/db/imports/import-people';
import { labelsOfRows } from '@/db/imports/import-rows';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import type { Channel } from '@/core/message/channel';
import { takeAddress } from '@/db/people/addresses';
import { lockPeople } from '@/db/people/locks';
import type { Context } from '@/services/kit/context';
import { recordConsent } from '@/services/consent/record-consent';

interface UndoRow {
  line: number;
  verdict: 'add' | 'update' | 'same';
  person_id: string;
  changes: Changes | null;
  untouched: boolean;
  number: string | null;
  further: string[] | null;
  zone: string | null;
  first_name: string | null;
  last_name: string | null;
  email: string | null;
  region: string | null;
  postal_code: string | null;
  stage_id: string | null;
  owner_id: string | null;
  fields: OwnValues;
}

const SLICE = 500;

/**
 * Takes back one slice; true while there may be more. Whom the import added goes, unless anything happened to them
 * since; a changed value goes back, unless it was changed again; consent it gave lapses. What stays is said.
 */
export async function undoSlice(ctx: Context, scope: Scope, row: ImportRow): Promise<boolean> {
  const rows = await rowsToUndo(scope, row.id);
  if (rows.length === 0) {
    await tidyUp(scope, row);
    await setImport(scope, row.id, 'settle', { at: new Date(ctx.now()) });
    await announce(scope, false);
    return false;
  }
  const gone = rows.filter(({ verdict, untouched }) => verdict === 'add' && untouched);
  await removePeople(
    scope,
    gone.map(({ person_id: id }) => id),
    row.id,
  );
  const back = rows
    .filter(({ verdict }) => verdict === 'update')
    .map((one) => ({ one, change: changeBack(one) }));
  await changePeople(
    scope,
    back.flatMap(({ change }) => (change ? [change] : [])),
    new Date(ctx.now()),
  );
  for (const { one } of back) await takeFurther(scope, one);
  const staying = rows.filter(({ verdict }) => verdict !== 'add');
  await scope.run(
    `delete from person_label where workspace_id = :workspace and batch_id = :importId and person_id = any(:ids::text[])`,
    { importId: row.id, ids: staying.map(({ person_id: id }) => id) },
  );
  await lapse(ctx, scope, row, staying);
  await mark(scope, row.id, rows, (one) => {
    if (one.verdict === 'add') return one.untouched ? 'deleted' : 'kept: something happened to them since';
    const change = back.find((other) => other.one === one)?.change;
    return one.verdict === 'same' || (change && valuesIn(one.changes) === restored(change))
      ? 'changed back'
      : 'kept in part: changed again since';
  });
  await announce(scope, false);
  return true;
}

/** The tags, lists and fields that came into being for it go, as far as nobody has them by now and nothing names them. */
async function tidyUp(scope: Scope, row: ImportRow): Promise<void> {
  const { tags, list } = row.options;
  const named = [
    ...(await labelsOfRows(scope, row.id, 'tags')),
    ...(await labelsOfRows(scope, row.id, 'lists')),
  ];
  await dropUnusedLabels(scope, [...tags, ...(list ? [list] : []), ...named], row.created_at);
  const fresh = row.mapping.flatMap(({ fresh: field }) => (field ? [field.key] : []));
  await dropUnusedFields(scope, fresh, row.created_at);
}

const valuesIn = (changes: Changes | null): number =>
  Object.keys(changes ?? {}).filter((name) => !name.startsWith(FURTHER)).length;

const restored = ({ plain, fields }: PersonChange): number =>
  Object.keys(plain).length + Object.keys(fields).length;

const rowsToUndo = (scope: Scope, importId: string): Promise<UndoRow[]> =>
  scope.rows<UndoRow>(
    `select r.line, r.verdict, r.person_id, r.changes, p.number, p.further, p.zone, p.language, p.first_name, p.last_name, p.email, p.region, p.postal_code, p.stage_id, p.owner_id, p.fields,
            p.merged_into is null and p.erased_at is null and p.stage_id is not distinct from r.data ->> 'stage_id' and p.owner_id is not distinct from r.data ->> 'owner_id' and p.last_wrote_at is null
              and p.first_name is not distinct from r.data ->> 'first_name' and p.last_name is not distinct from r.data ->> 'last_name'
              and p.email is not distinct from r.data ->> 'email' and p.fields = r.data -> 'fields'
              and not exists (select 1 from message t where t.workspace_id = p.workspace_id and t.person_id = p.id)
              and not exists (select 1 from inbound_text x where x.person_id = p.id)
              and not exists (select 1 from person m where m.merged_into = p.id)
              and not exists (select 1 from person_label l where l.person_id = p.id and l.batch_id is distinct from r.import_id)
              and not exists (select 1 from consent_event e where e.person_id = p.id and e.evidence ->> 'importId' is distinct from r.import_id) as untouched
       from import_row r join import i on i.id = r.import_id join person p on p.id = r.person_id
      where r.workspace_id = :workspace and r.import_id = :importId and r.line <= i.cursor and r.undone is null and r.verdict in ('add', 'update', 'same')
      order by r.line limit ${SLICE} for update of p`,
    { importId },
  );

async function removePeople(scope: Scope, ids: readonly string[], importId: string): Promise<void> {
  if (ids.length === 0) return;
  await scope.rows(`select set_config('wren.erasing', 'on', true) where :workspace is not null`);
  for (const table of [
    'person_label',
    'consent_state',
    'consent_event',
    'sender_assignment',
    'duplicate_pair',
  ])
    await scope.run(
      table === 'duplicate_pair'
        ? `delete from duplicate_pair where workspace_id = :workspace and (one_id = any(:ids::text[]) or other_id = any(:ids::text[]))`
        : `delete from ${table} where workspace_id = :workspace and person_id = any(:ids::text[])`,
      { ids },
    );
  await scope.rows(`select set_config('wren.erasing', 'off', true) where :workspace is not null`);
  await scope.run(
    `update import_row set person_id = null where workspace_id = :workspace and import_id <> :importId and person_id = any(:ids::text[])`,
    { ids, importId },
  );
  await scope.run(`delete from person where workspace_id = :workspace and id = any(:ids::text[])`, { ids });
}

const FURTHER = 'further.';
const CHAT = 'chat:';

/** A further address that the import brought goes, unless they prefer it by now or something was agreed to by it. */
async function takeFurther(scope: Scope, { person_id: personId, changes, further }: UndoRow): Promise<void> {
  for (const name of Object.keys(changes ?? {}).filter((key) => key.startsWith(FURTHER))) {
    const written = name.slice(FURTHER.length);
    const chat = written.startsWith(CHAT);
    const value = chat ? written.slice(CHAT.length) : written;
    if (!further?.includes(value)) continue;
    const agreements = await scope.rows(
      `select 1 from consent_state where workspace_id = :workspace and person_id = :personId and address = :value limit 1`,
      { personId, value },
    );
    if (agreements.length === 0)
      await takeAddress(scope, {
        ...{ personId, value },
        kind: chat ? 'chat' : value.includes('@') ? 'email' : 'number',
      });
  }
}

/** What goes back: values that are still what the import set. Null: nothing is. */
function changeBack(row: UndoRow): PersonChange | null {
  const plain: Record<string, string | null> = {};
  const fields: Record<string, unknown> = {};
  for (const [name, [before, after]] of Object.entries(row.changes ?? {})) {
    if (name.startsWith(FURTHER)) continue;
    const now = name.startsWith('own.') ? (row.fields[name.slice(4)] ?? null) : row[name as 'first_name'];
    if (!sameValue(now, after)) continue;
    if (name.startsWith('own.')) fields[name.slice(4)] = before;
    else plain[name] = before as string | null;
  }
  if (Object.keys(plain).length + Object.keys(fields).length === 0) return null;
  const region = 'region' in plain ? plain.region! : row.region;
  const postalCode = 'postal_code' in plain ? plain.postal_code! : row.postal_code;
  return {
    id: row.person_id,
    plain,
    fields,
    ...placeColumns(
      placeOf({ number: row.number, zone: 'zone' in plain ? plain.zone! : row.zone, region, postalCode }),
    ),
  };
}

/** Consent that rests on this import alone does not hold any more. */
async function lapse(ctx: Context, scope: Scope, row: ImportRow, rows: readonly UndoRow[]): Promise<void> {
  const { program } = row.options;
  if (!program || !row.options.consent) return;
  const ids = rows.map(({ person_id: id }) => id);
  await lockPeople(scope, ids);
  const given = await scope.rows<{ id: string; person_id: string; channel: Channel; address: string }>(
    `select c.event_id as id, c.person_id, c.channel, c.address from consent_state c join consent_event e on e.id = c.event_id
      where c.workspace_id = :workspace and c.person_id = any(:ids::text[]) and c.program_id = :program and e.evidence ->> 'importId' = :importId`,
    { ids, program, importId: row.id },
  );
  for (const { person_id: personId, channel, address } of given)
    await recordConsent(ctx, scope, {
      ...{ personId, programId: program, channel, address },
      kind: 'lapsed',
      method: 'import',
      evidence: { source: `import ${row.name}, undone`, importId: row.id },
    });
}

const mark = (
  scope: Scope,
  importId: string,
  rows: readonly UndoRow[],
  words: (row: UndoRow) => string,
): Promise<number> =>
  scope.run(
    `update import_row r set undone = u.words, person_id = case when u.words = 'deleted' then null else r.person_id end
       from unnest(:lines::int[], :words::text[]) as u (line, words)
      where r.workspace_id = :workspace and r.import_id = :importId and r.line = u.line`,
    { importId, lines: rows.map(({ line }) => line), words: rows.map(words) },
  );
