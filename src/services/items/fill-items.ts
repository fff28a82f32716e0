import { itemsNamed, itemWords, withItems, type Item } from '@/core/item/item';
import { Workspace } from '@/db/access/entities';
import { ItemRow } from '@/db/items/entities';
import { writeAbout } from '@/db/items/items';
import type { Scope } from '@/db/kit/scope';

export const itemOf = ({ startsAt, endsAt, ...item }: ItemRow): Item => ({
  ...item,
  startsAt: startsAt?.getTime() ?? null,
  endsAt: endsAt?.getTime() ?? null,
});

/** A stored text with what it says of items put in, as they are now. */
export const fillItems = (scope: Scope, source: string): Promise<string> => fillAll(scope, source);

/** The same of every text of a message or a document, however deep it lies. */
export async function fillAll<T>(scope: Scope, value: T): Promise<T> {
  const keys = new Set<string>();
  mapTexts(value, (text) => {
    for (const key of itemsNamed(text)) keys.add(key);
    return text;
  });
  if (keys.size === 0) return value;
  const { zone, country } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const rows = await scope.em.find(ItemRow, { key: { $in: [...keys] } });
  const words = new Map(rows.map((row) => [row.key, itemWords(itemOf(row), zone, country)]));
  return mapTexts(value, (text) => withItems(text, words)) as T;
}

function mapTexts(value: unknown, change: (text: string) => string): unknown {
  if (typeof value === 'string') return change(value);
  if (Array.isArray(value)) return value.map((one) => mapTexts(one, change));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, mapTexts(one, change)]));
}

/** Items a stored text names, by key. */
export async function itemsIn(scope: Scope, source: string): Promise<ReadonlyMap<string, ItemRow>> {
  const keys = itemsNamed(source);
  const rows = keys.length === 0 ? [] : await scope.em.find(ItemRow, { key: { $in: keys } });
  return new Map(rows.map((row) => [row.key, row]));
}

/** Notes which items a send names, for whoever is asked whether they were written to about them. */
export async function noteItems(
  scope: Scope,
  of: { sendId: string; stepId?: string },
  sources: readonly string[],
): Promise<void> {
  const keys = [...new Set(sources.flatMap(itemsNamed))];
  if (keys.length > 0) await writeAbout(scope, { sendId: of.sendId, stepId: of.stepId ?? '' }, keys);
}
