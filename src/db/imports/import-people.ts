import type { KnownPerson } from '@/core/import/decide';
import { rollup } from 'd3-array';
import type { AddressKind } from '@/core/people/address';
import { setEmails } from '@/db/people/addresses';
import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';
import { type StoredRow } from './import-rows';
import { type KnownRow } from './imports';

/** The line at which each of these numbers, and other addresses of rows without one, stands first in this import. */
export async function linesOfAddresses(
  scope: Scope,
  importId: string,
  { numbers, emails, chats }: Addresses,
): Promise<Map<string, number>> {
  // Each is looked up by itself: of all that are asked for at once, the planner would go through the whole import.
  const first = (column: string, asked: string) =>
    `select a.address, l.line from unnest(:${asked}::text[]) as a (address) cross join lateral (
       select min(line) as line from import_row where workspace_id = :workspace and import_id = :importId and ${column} = a.address) l where l.line is not null`;
  const rows = await scope.rows<{ address: string; line: number }>(
    [first('number', 'numbers'), first('email', 'emails'), first('chat', 'chats')].join(' union all '),
    { importId, numbers, emails, chats },
  );
  return new Map(rows.map((row) => [row.address, row.line]));
}

/** What rows are told by: their number, else their e-mail address, else their chat id. */
export interface Addresses {
  numbers: readonly string[];
  emails: readonly string[];
  chats: readonly string[];
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

export interface KnownByAddress extends KnownPerson {
  number: string | null;
  lineType: string;
}

const KNOWN = (kind: AddressKind, lock: string): string =>
  `select p.id, p.number, p.first_name, p.last_name, p.email, p.further, p.region, p.postal_code, p.zone, p.language, p.stage_id, p.owner_id, p.line_type, p.fields, p.stopped_at is not null as stopped, a.value as address,
          (select c.state from consent_state c where c.person_id = p.id and c.program_id = :programId and c.channel = '${kind === 'number' ? 'sms' : kind}' and c.current) as consent
     from address a join person p on p.id = a.person_id
    where a.workspace_id = :workspace and p.workspace_id = :workspace and a.kind = '${kind}' and a.value = any(:values::text[]) order by p.id ${lock}`;

/** Who is here with these addresses, whichever of theirs it is. */
export async function knownPeople(
  scope: Scope,
  { numbers, emails, chats }: Addresses,
  programId: string | null,
  lock = false,
): Promise<Map<string, KnownByAddress>> {
  const way = lock ? 'for update of p' : '';
  const find = (kind: AddressKind, values: readonly string[]) =>
    values.length > 0
      ? scope.rows<KnownRow>(KNOWN(kind, way), { values, programId })
      : Promise.resolve([] as KnownRow[]);
  const byNumber = await find('number', numbers);
  const byOther = [...(await find('email', emails)), ...(await find('chat', chats))];
  const shared = rollup(
    byOther,
    (rows) => rows.length > 1,
    (row) => row.address,
  );
  return new Map(
    [...byNumber, ...byOther].map((row) => [row.address, knownOf(row, shared.get(row.address) ?? false)]),
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
  language: row.language,
  stageId: row.stage_id,
  ownerId: row.owner_id,
  lineType: row.line_type,
  fields: row.fields,
  stopped: row.stopped,
  consent: row.consent ?? 'none',
  erased: false,
  shared,
});

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
    `insert into person (id, workspace_id, number, first_name, last_name, email, region, postal_code, zone, language, stage_id, owner_id, line_type, fields, source, place_region, place_zones, created_at)
     select u.id, :workspace, u.number, u.first_name, u.last_name, u.email, u.region, u.postal_code, u.zone, u.language, u.stage_id, u.owner_id, u.line_type, u.fields, :source, u.place_region, u.place_zones, :at
       from json_populate_recordset(null::person, :people::json) as u
     on conflict (workspace_id, number) do nothing returning id`,
    {
      source,
      at,
      people: toJson(
        people.map(
          ({ id, number, data: { tags: _, lists: ___, further: __, ...data }, lineType, region, zones }) => ({
            ...{ ...data, id, number, line_type: lineType, place_region: region, place_zones: zones },
          }),
        ),
      ),
    },
  );
  return new Set(rows.map((row) => row.id));
}

/** Columns of a person that an import sets. */
export type PlainColumn =
  | 'first_name'
  | 'last_name'
  | 'email'
  | 'region'
  | 'postal_code'
  | 'zone'
  | 'language'
  | 'stage_id'
  | 'owner_id';

export interface PersonChange {
  id: string;
  plain: Partial<Record<PlainColumn, string | null>>;
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
        zone = case when u.plain ? 'zone' then u.plain ->> 'zone' else p.zone end,
        language = case when u.plain ? 'language' then u.plain ->> 'language' else p.language end,
        stage_id = case when u.plain ? 'stage_id' then u.plain ->> 'stage_id' else p.stage_id end,
        owner_id = case when u.plain ? 'owner_id' then u.plain ->> 'owner_id' else p.owner_id end,
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

/** Nothing is sent to their numbers any more, whatever the program. */
export const stopPeople = (scope: Scope, people: readonly string[], at: Date): Promise<number> =>
  scope.run(
    `update person set stopped_at = :at where workspace_id = :workspace and id = any(:people::text[]) and number is not null and stopped_at is null`,
    { people, at },
  );

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

/** Teammates as files may call them. */
export const calledTeammates = (scope: Scope): Promise<{ id: string; name: string; email: string }[]> =>
  scope.rows(
    `select a.id, a.name, a.email from membership m join account a on a.id = m.account_id where m.workspace_id = :workspace`,
  );

/** Where a tag, a list or a field may be named. */
const NAMING = [
  'segment',
  'broadcast',
  'sequence',
  'sequence_version',
  'form',
  'form_version',
  'template',
  'keyword',
];

const namedNowhere = (what: string): string =>
  NAMING.map(
    (table) =>
      `not exists (select 1 from ${table} t where t.workspace_id = :workspace and t::text like '%' || ${what} || '%')`,
  ).join(' and ');

/** Tags and lists that came into being since, that nobody has and that are named nowhere. Gives how many went. */
export const dropUnusedLabels = (scope: Scope, names: readonly string[], since: Date): Promise<number> =>
  scope.run(
    `delete from label l where l.workspace_id = :workspace and l.name = any(:names::text[]) and l.created_at >= :since
        and not exists (select 1 from person_label x where x.label_id = l.id) and ${namedNowhere('l.id')}`,
    { names, since },
  );

/** The same of fields. */
export const dropUnusedFields = (scope: Scope, keys: readonly string[], since: Date): Promise<number> =>
  scope.run(
    `delete from field f where f.workspace_id = :workspace and f.key = any(:keys::text[]) and f.created_at >= :since
        and not exists (select 1 from person p where p.workspace_id = :workspace and jsonb_exists(p.fields, f.key))
        and ${namedNowhere(`'fields.' || f.key`)} and ${namedNowhere(`'own.' || f.key`)}`,
    { keys, since },
  );
