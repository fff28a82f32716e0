import { parseJson } from '@/core/shared/json';
import type { Condition } from '@/core/audience/condition';
import { toJson } from '@/db/kit/json';
import type { Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { giveRoom, peoplePage, type PersonRow, type Place } from '@/db/audience/cut';
import type { Scope } from '@/db/kit/scope';
import { cutOf, findingContext, planCondition } from '@/services/audience/audience';
import { invalid, type Refusal } from '@/services/kit/validation';

/** Columns the table can show besides the name, in the order they are offered. Own fields come as `own.<key>`. */
export const TABLE_COLUMNS: readonly { name: string; label: string }[] = [
  { name: 'number', label: 'Number' },
  { name: 'programs', label: 'Programs' },
  { name: 'tags', label: 'Tags' },
  { name: 'lists', label: 'Lists' },
  { name: 'stage', label: 'Stage' },
  { name: 'owner', label: 'Owner' },
  { name: 'last_text', label: 'Last text' },
  { name: 'last_reply', label: 'Last reply' },
  { name: 'email', label: 'E-mail' },
  { name: 'further', label: 'Further addresses' },
  { name: 'place', label: 'State' },
  { name: 'line_type', label: 'Line' },
  { name: 'source', label: 'Source' },
  { name: 'added', label: 'Added' },
];

/** Columns that say several things at once cannot be put in an order. */
export const isSortable = (column: string): boolean =>
  !['programs', 'tags', 'lists', 'further'].includes(column);

export const USUAL_COLUMNS: readonly string[] = [
  'number',
  'programs',
  'tags',
  'stage',
  'last_text',
  'last_reply',
];

export interface TableQuery {
  condition: Condition;
  search: string;
  /** A sortable column or `name`, with a minus before it for the other way round. Empty: newest first. */
  sort: string;
  /** The `next` of the page before; empty: the first page. */
  after: string;
}

export interface TablePage {
  rows: PersonRow[];
  next: string | null;
}

const MOST = 100;

export async function readPeopleTable(
  scope: Scope,
  query: TableQuery,
  now: Millis,
  most = MOST,
): Promise<Result<TablePage, Refusal>> {
  const context = await findingContext(scope, query.condition, query.sort, now);
  const plan = planCondition(query.condition, context);
  if (!plan.ok) return plan;
  const descending = query.sort === '' || query.sort.startsWith('-');
  const field = query.sort.replace(/^-/, '') || 'added';
  const known =
    field === 'name' ||
    (TABLE_COLUMNS.some(({ name }) => name === field) && isSortable(field)) ||
    (field.startsWith('own.') && context.fields.has(field));
  if (!known) return invalid('sort', 'sort: the table cannot be put in that order.');
  const after = query.after === '' ? null : readPlace(query.after);
  if (after === undefined) return invalid('after', 'after: must be the "next" of the page before.');
  // Everybody in order comes from an index as it is.
  if (context.asks || query.search !== '') await giveRoom(scope);
  const sort = { field, descending, numeric: context.fields.get(field)?.kind === 'number' };
  const rows = await peoplePage(scope, cutOf(plan.value, query.search), sort, after, most + 1);
  const shown = rows.slice(0, most);
  const last = shown.at(-1);
  return ok({
    rows: shown,
    next: rows.length > most && last ? writePlace({ value: last.sort_value, id: last.id }) : null,
  });
}

const writePlace = ({ value, id }: Place): string => Buffer.from(toJson([value, id])).toString('base64url');

function readPlace(text: string): Place | undefined {
  const place = parseJson(Buffer.from(text, 'base64url').toString());
  if (!place.ok || !Array.isArray(place.value)) return undefined;
  const [value, id] = place.value as unknown[];
  const good = (value === null || typeof value === 'string') && typeof id === 'string';
  return good && !/\0/.test(`${value ?? ''}${id}`) ? { value, id } : undefined;
}
