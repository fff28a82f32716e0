import type { ConsentState } from '@/core/consent/ledger';
import type { OwnValues } from '@/core/people/values';
import type { Compiled } from './compile';
import type { Scope, SqlValue } from '@/db/kit/scope';

/** Everybody who is here: neither merged into somebody else nor erased. */
export const HERE = `p.workspace_id = :workspace and p.merged_into is null and p.erased_at is null`;

/** A cut of the people: a condition, and what is typed into the search box. */
export interface Cut {
  condition: Compiled;
  /** Folded, with wild cards escaped; empty: everybody. */
  search: string;
  /** Digits of the search when there are at least three; empty: none. */
  digits: string;
}

export function whereOf({ condition, search, digits }: Cut): {
  where: string;
  values: Record<string, SqlValue>;
} {
  const found =
    search === ''
      ? ''
      : digits === ''
        ? ` and p.search like '%' || :search || '%'`
        : ` and (p.search like '%' || :search || '%' or p.search like '%' || :digits || '%')`;
  return {
    where: `${HERE}${found} and ${condition.where}`,
    values: {
      ...condition.values,
      ...(search === '' ? {} : { search }),
      ...(digits === '' ? {} : { digits }),
    },
  };
}

/** What the table can be sorted by. The expression's null stands last, whichever way it is sorted. */
interface SortKey {
  sql: string;
  type: 'text' | 'timestamptz' | 'integer' | 'double precision';
  join?: string;
  /** True of rows that have no value, and of those that have one; left out: the expression is null, or is not. */
  missing?: string;
  present?: string;
}

const SORTS: Record<string, SortKey> = {
  name: { sql: 'p.full_name', type: 'text' },
  number: { sql: 'p.number', type: 'text' },
  added: { sql: 'p.id', type: 'text' },
  email: { sql: 'lower(p.email)', type: 'text', missing: 'p.email is null', present: 'p.email is not null' },
  place: { sql: 'lower(p.place_region)', type: 'text' },
  source: { sql: 'lower(p.source)', type: 'text' },
  line_type: { sql: 'lower(p.line_type)', type: 'text' },
  last_reply: { sql: 'p.last_wrote_at', type: 'timestamptz' },
  last_text: {
    sql: 'l.at',
    type: 'timestamptz',
    join: 'join last_text l on l.person_id = p.id and l.workspace_id = :workspace',
    missing:
      'not exists (select 1 from last_text l where l.person_id = p.id and l.workspace_id = :workspace)',
  },
  stage: {
    sql: 's.position',
    type: 'integer',
    join: 'join stage s on s.id = p.stage_id and s.workspace_id = :workspace',
    missing: 'p.stage_id is null',
  },
  owner: {
    sql: 'lower(o.name)',
    type: 'text',
    join: 'join account o on o.id = p.owner_id',
    missing: 'p.owner_id is null',
  },
};

/** `field` names an own field: `own.planet`. Numbers sort as numbers. */
function sortKey(field: string, numeric: boolean): SortKey | null {
  const key = /^own\.([a-z][a-z0-9_]*)$/.exec(field)?.[1];
  if (!key) return SORTS[field] ?? null;
  const value = `p.fields ->> '${key}'`;
  return numeric
    ? {
        sql: `(case when ${value} ~ '^-?\\d{1,12}(\\.\\d{1,3})?$' then (${value})::double precision end)`,
        type: 'double precision',
      }
    : { sql: `lower(nullif(${value}, ''))`, type: 'text' };
}

export interface Sort {
  field: string;
  descending: boolean;
  numeric: boolean;
}

/** Where a page ended: the value as text, or null once rows without one have begun. */
export interface Place {
  value: string | null;
  id: string;
}

export interface PersonRow {
  id: string;
  number: string | null;
  first_name: string | null;
  last_name: string | null;
  email: string | null;
  email_state: string;
  further: string[] | null;
  place_region: string | null;
  /** The state that was entered; null: it is known by the number, or not at all. */
  region: string | null;
  line_type: string;
  number_state: string;
  stopped_at: Date | null;
  unclear_since: Date | null;
  last_wrote_at: Date | null;
  paused_until: Date | null;
  last_text_at: Date | null;
  source: string;
  stage_id: string | null;
  owner_id: string | null;
  fields: OwnValues;
  created_at: Date;
  label_ids: string[];
  /** What they told each program, by text and by e-mail. */
  programs: { id: string; state: Exclude<ConsentState, 'none'> }[];
  chat_programs: { id: string; state: Exclude<ConsentState, 'none'> }[];
  mail_programs: { id: string; state: Exclude<ConsentState, 'none'> }[];
  sort_value: string | null;
}

/**
 * A page of the table. Only ids are sorted; what is shown is fetched for the rows of the page alone. Rows with a
 * value and rows without are two ranges of one index, so no page skips over those before it.
 */
export async function peoplePage(
  scope: Scope,
  cut: Cut,
  sort: Sort,
  after: Place | null,
  most: number,
): Promise<PersonRow[]> {
  const { where, values } = whereOf(cut);
  const key = sortKey(sort.field, sort.numeric);
  if (!key) throw new Error(`The table cannot be sorted by ${sort.field}`);
  const valued =
    after?.value === null ? [] : await valuedIds(scope, { where, values, key, sort, after, most });
  const left = most - valued.length;
  const missing =
    left > 0
      ? await missingIds(scope, {
          where,
          values,
          key,
          after: after?.value === null ? after.id : '',
          most: left,
        })
      : [];
  return fetchRows(scope, [...valued, ...missing]);
}

interface Asked {
  where: string;
  values: Record<string, SqlValue>;
  key: SortKey;
  most: number;
}
interface IdRow {
  id: string;
  sort_value: string | null;
}

function valuedIds(
  scope: Scope,
  { where, values, key, sort, after, most }: Asked & { sort: Sort; after: Place | null },
): Promise<IdRow[]> {
  const way = sort.descending ? 'desc' : 'asc';
  const beyond = sort.descending ? '<' : '>';
  const from = after ? `and (${key.sql}, p.id) ${beyond} (:fromValue::${key.type}, :fromId)` : '';
  return scope.rows<IdRow>(
    `select p.id, ${key.sql}::text as sort_value from person p ${key.join ?? ''}
      where ${where} and ${key.present ?? `${key.sql} is not null`} ${from} order by ${key.sql} ${way}, p.id ${way} limit :most`,
    { ...values, most, ...(after ? { fromValue: after.value!, fromId: after.id } : {}) },
  );
}

const missingIds = (
  scope: Scope,
  { where, values, key, after, most }: Asked & { after: string },
): Promise<IdRow[]> =>
  key.sql === 'p.id'
    ? Promise.resolve([])
    : scope.rows<IdRow>(
        `select p.id, null as sort_value from person p
          where ${where} and ${key.missing ?? `${key.sql} is null`} and p.id > :after order by p.id limit :most`,
        { ...values, after, most },
      );

/** Rows of given people, in that order. */
export const peopleByIds = (scope: Scope, ids: readonly string[]): Promise<PersonRow[]> =>
  fetchRows(
    scope,
    ids.map((id) => ({ id, sort_value: null })),
  );

async function fetchRows(scope: Scope, ids: readonly IdRow[]): Promise<PersonRow[]> {
  if (ids.length === 0) return [];
  const rows = await scope.rows<PersonRow>(
    `select p.id, p.number, p.first_name, p.last_name, p.email, p.email_state, p.further, p.place_region, p.region, p.line_type, p.number_state, p.stopped_at, p.unclear_since,
            p.last_wrote_at, p.paused_until, l.at as last_text_at, p.source, p.stage_id, p.owner_id, p.fields, p.created_at,
            coalesce((select array_agg(x.label_id) from person_label x where x.person_id = p.id), '{}') as label_ids,
            coalesce((select jsonb_agg(jsonb_build_object('id', c.program_id, 'state', c.state) order by c.program_id)
              from consent_state c where c.person_id = p.id and c.channel = 'sms' and c.current), '[]') as programs,
            coalesce((select jsonb_agg(jsonb_build_object('id', c.program_id, 'state', c.state) order by c.program_id)
              from consent_state c where c.person_id = p.id and c.channel = 'email' and c.current), '[]') as mail_programs,
            coalesce((select jsonb_agg(jsonb_build_object('id', c.program_id, 'state', c.state) order by c.program_id)
              from consent_state c where c.person_id = p.id and c.channel = 'chat' and c.current), '[]') as chat_programs
       from person p left join last_text l on l.person_id = p.id
      where ${HERE} and p.id = any(:ids::text[])`,
    { ids: ids.map(({ id }) => id) },
  );
  const byId = new Map(rows.map((row) => [row.id, row]));
  return ids.flatMap(({ id, sort_value }) => {
    const row = byId.get(id);
    return row ? [{ ...row, sort_value }] : [];
  });
}

export async function countPeople(scope: Scope, cut: Cut): Promise<number> {
  const { where, values } = whereOf(cut);
  const { rows, where: condition } = cut.condition;
  const quick = cut.search === '' && (rows !== undefined || condition === 'true');
  const [row] = await scope.rows<{ n: number }>(
    quick ? quickCount(rows) : `select count(*)::int as n from person p where ${where}`,
    values,
  );
  return row!.n;
}

/**
 * Everybody, or who has (has not) a row of one table: counted in an index, less those who are gone. The few who are
 * gone are looked at instead of the million who are here.
 */
function quickCount(rows: Compiled['rows']): string {
  const gone = `person p where p.workspace_id = :workspace and (p.merged_into is not null or p.erased_at is not null)`;
  const everybody = `(select count(*) from person p where p.workspace_id = :workspace) - (select count(*) from ${gone})`;
  if (!rows) return `select (${everybody})::int as n`;
  const theirs = `(select count(*) from ${rows.from}) - (select count(*) from ${gone} and exists (select 1 from ${rows.from} and x.person_id = p.id))`;
  return `select (${rows.holds ? theirs : `(${everybody}) - (${theirs})`})::int as n`;
}

/** More than so many are not kept between two steps: they are counted as they are, and asked anew with the next clause. */
const NARROW = 50_000;

/**
 * How many are left at first, and after each clause. As long as many are left, each step is a count of its own, which
 * the database spreads over its processes. Once they are few, each clause is asked only of who the ones before it left,
 * as a join of those ids: the planner knows how many they are, and looks up the last hundred instead of hashing a million.
 */
export async function countSteps(
  scope: Scope,
  cut: Cut,
  clauses: readonly Compiled[],
  narrow = NARROW,
): Promise<number[]> {
  const upTo = (n: number): Cut => ({ ...cut, condition: allOf(clauses.slice(0, n)) });
  const counts = [await countPeople(scope, upTo(0))];
  for (let n = 1; n <= clauses.length; n++) {
    if ((await estimate(scope, upTo(n))) <= narrow)
      return [...counts, ...(await countNarrow(scope, upTo(n), clauses.slice(n)))];
    counts.push(await countPeople(scope, upTo(n)));
  }
  return counts;
}

function allOf(clauses: readonly Compiled[]): Compiled {
  if (clauses.length === 1) return clauses[0]!;
  return {
    where: clauses.map(({ where }) => where).join(' and ') || 'true',
    values: Object.assign({}, ...clauses.map(({ values }) => values)) as Compiled['values'],
  };
}

/** How many the planner expects. It only decides the way of counting, so that it may be wrong. */
async function estimate(scope: Scope, cut: Cut): Promise<number> {
  const { where, values } = whereOf(cut);
  const [row] = await scope.rows<{ 'QUERY PLAN': [{ Plan: { 'Plan Rows': number } }] }>(
    `explain (format json) select p.id from person p where ${where}`,
    values,
  );
  return row!['QUERY PLAN'][0].Plan['Plan Rows'];
}

/** The count of a cut, and after each further clause. */
async function countNarrow(scope: Scope, cut: Cut, clauses: readonly Compiled[]): Promise<number[]> {
  const { where, values } = whereOf(cut);
  const steps = clauses.map(
    ({ where: clause }, i) =>
      `, s${i + 1} as materialized (select p.id from s${i} join person p on p.id = s${i}.id where p.workspace_id = :workspace and ${clause})`,
  );
  const counts = [0, ...clauses.map((_, i) => i + 1)].map((i) => `(select count(*) from s${i})::int`);
  const [row] = await scope.rows<{ counts: number[] }>(
    `with s0 as materialized (select p.id from person p where ${where})${steps.join('')} select array[${counts.join(', ')}] as counts`,
    Object.assign({}, values, ...clauses.map((clause) => clause.values)) as Record<string, SqlValue>,
  );
  return row!.counts;
}

/**
 * Hash tables of a million ids need room; the default makes the planner test row by row instead. And its default price
 * of a page out of turn is that of a turning disk, for which it would read a whole table instead of an index.
 */
export const giveRoom = (scope: Scope, asks: keyof typeof MOST_MS = 'screen'): Promise<unknown> =>
  scope.rows(
    `select set_config('work_mem', '128MB', true), set_config('random_page_cost', '1.1', true), set_config('statement_timeout', :most, true)
      where :workspace is not null`,
    { most: String(MOST_MS[asks]) },
  );

/** How long one question about people may take: somebody waits for it, or the worker does. Then it is given up (`TookTooLong`). */
const MOST_MS = { screen: 20_000, worker: 300_000 };
