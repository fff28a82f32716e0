import { cutText } from '@/core/shared/clean-text';
import { type Condition, EVERYBODY } from '@/core/audience/condition';
import type { AskableField } from '@/core/audience/fields';
import type { Millis } from '@/core/shared/instant';
import type { NamedThing } from '@/core/audience/suggest';
import { namesOfThings } from '@/db/audience/things';
import type { Segment } from '@/db/audience/entities';
import type { Scope } from '@/db/kit/scope';
import { audienceContext, readCondition } from '@/services/audience/audience';
import { isSortable, TABLE_COLUMNS, USUAL_COLUMNS } from './people-table';
import { ownFields } from '@/services/audience/own-fields';
import { sharedWith, visibleSegments } from '@/services/audience/segments';
import { Preference } from '@/db/people/entities';

const COLUMNS_KEY = 'people.columns';

/** Keeps somebody's choice of columns; names that are none are left out when it is read. */
export const saveColumns = (scope: Scope, accountId: string, columns: readonly string[]): Promise<unknown> =>
  scope.em.upsert(Preference, {
    ...{ workspaceId: scope.workspaceId, accountId, key: COLUMNS_KEY },
    value: columns.slice(0, MOST_COLUMNS).map((name) => cutText(name, 60)),
  });

async function chosenColumns(scope: Scope, accountId: string): Promise<string[]> {
  const chosen = await scope.em.findOne(Preference, { accountId, key: COLUMNS_KEY });
  return (chosen?.value as string[] | undefined) ?? [...USUAL_COLUMNS];
}

export interface PeopleScreen {
  fields: AskableField[];
  things: NamedThing[];
  segments: Segment[];
  /** The teammates that one's own segments are shared with, by segment. */
  sharedWith: Map<string, string[]>;
  teammates: { id: string; name: string }[];
  columns: { name: string; label: string; sortable: boolean }[];
  usual: string[];
  chosen: string[];
  start: { condition: Condition; search: string; sort: string; segment: string | null };
  running: number;
}

const MOST_COLUMNS = 40;

/** Everything the People place needs besides the rows and counts, which it asks for as they change. */
export async function readPeopleScreen(
  scope: Scope,
  accountId: string,
  now: Millis,
  asked: { cut: string; segment: string; search: string; sort: string },
): Promise<PeopleScreen> {
  const context = await audienceContext(scope, now, accountId);
  const segments = await visibleSegments(scope, accountId);
  const segment = segments.find(({ id }) => id === asked.segment) ?? null;
  const cut = asked.cut ? readCondition(asked.cut) : null;
  const things = await namesOfThings(scope, accountId);
  const own = [...context.fields.values()].filter(({ name }) => name.startsWith('own.'));
  const [running] = await scope.rows<{ n: number }>(
    `select ((select count(*) from batch where workspace_id = :workspace and state in ('waiting', 'running', 'undoing'))
           + (select count(*) from import where workspace_id = :workspace and state in ('checking', 'running', 'undoing')))::int as n`,
  );
  return {
    fields: [...context.fields.values()],
    things,
    segments,
    sharedWith: await sharedWith(scope, accountId),
    teammates: things.filter(({ kind }) => kind === 'teammate').map(({ id, name }) => ({ id, name })),
    columns: [
      ...TABLE_COLUMNS.map(({ name, label }) => ({ name, label, sortable: isSortable(name) })),
      ...own.map(({ name, label, kind }) => ({ name, label, sortable: kind !== 'several' })),
    ],
    usual: [...USUAL_COLUMNS],
    chosen: segment && segment.columns.length > 0 ? segment.columns : await chosenColumns(scope, accountId),
    start: {
      // An address that cannot be read shows everybody rather than nothing.
      condition: cut?.ok ? cut.value : (segment?.condition ?? EVERYBODY),
      search: cutText(asked.search, 80),
      sort: asked.sort || segment?.sort || '',
      segment: segment?.id ?? null,
    },
    running: running!.n,
  };
}

/** Names of stages, teammates, tags and own fields (as `own.<key>`), by id. */
export async function namesById(scope: Scope): Promise<Record<string, string>> {
  const things = await namesOfThings(scope);
  const fields = await ownFields(scope, true);
  return Object.fromEntries([
    ...things.map(({ id, name }) => [id, name] as const),
    ...fields.map(({ key, label }) => [`own.${key}`, label] as const),
  ]);
}

/** Everything with a name that conditions and forms can choose from. */
export const readThings = (scope: Scope): Promise<NamedThing[]> => namesOfThings(scope);
