import { keyOfNumber, type Item, type ItemKind } from '@/core/item/item';
import { readTarget, TARGET_WORDS } from '@/core/link/target';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { parseInstant } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { ItemRow } from '@/db/items/entities';
import { lastNumber, peopleTold } from '@/db/items/items';
import { MediaFile } from '@/db/media/entities';
import type { Scope } from '@/db/kit/scope';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { filesById } from '@/services/media/files';
import type { ItemInput } from './inputs';

const MOST_ITEMS = 20_000;

/** The letter before numbers that are given here. */
const LETTERS: Record<ItemKind, string> = { event: 'E', tour: 'T', article: 'A' };

/** What was read of an item, in one form whoever wrote it. */
export interface ReadItem extends Omit<Item, 'number'> {
  /** Null: it has none yet. */
  number: string | null;
  mediaId: string | null;
  uid: string | null;
}

export type Saved = { item: ItemRow; what: 'added' | 'changed' | 'same' };

/** Keeps an item: one that has its number, or its place in a calendar, is changed. */
export async function saveItem(
  ctx: Context,
  scope: Scope,
  read: ReadItem,
  actor: Actor,
): Promise<Result<Saved, Refusal>> {
  const at = new Date(ctx.now());
  const { number: own, startsAt, endsAt, ...rest } = read;
  if (endsAt !== null && (startsAt === null || endsAt < startsAt))
    return invalid('ends_at', 'ends_at: lies before it begins. Mend one of the two.');
  await scope.rows(`select pg_advisory_xact_lock(hashtext('item ' || :workspace))`);
  const known = await findKnown(scope, own, read.uid);
  if (!known && (await scope.em.count(ItemRow)) >= MOST_ITEMS)
    return conflict('number', `number: there are ${MOST_ITEMS} items already.`);
  const number = own ?? known?.number ?? (await nextNumber(scope, read.kind));
  const key = keyOfNumber(number);
  if (key === '') return invalid('number', 'number: needs a letter or a digit, such as E-204.');
  const values = {
    ...{ ...rest, number, key, goneAt: null },
    ...{
      startsAt: startsAt === null ? null : new Date(startsAt),
      endsAt: endsAt === null ? null : new Date(endsAt),
    },
  };
  if (!known) {
    const item = scope.em.create(ItemRow, {
      ...{ ...values, id: ctx.id('itm'), workspaceId: scope.workspaceId, createdAt: at, updatedAt: at },
    });
    await scope.em.persistAndFlush(item);
    await writeAudit(ctx, scope, actor.name, 'item.added', item.id, { number });
    return ok({ item, what: 'added' });
  }
  // What a file does not tell of, such as a picture, stays.
  const given = { ...values, uid: values.uid ?? known.uid };
  if (sameValues(known, given)) return ok({ item: known, what: 'same' });
  Object.assign(known, given, { updatedAt: at });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, 'item.changed', known.id, { number });
  return ok({ item: known, what: 'changed' });
}

async function findKnown(scope: Scope, number: string | null, uid: string | null): Promise<ItemRow | null> {
  const byNumber = number === null ? null : await scope.em.findOne(ItemRow, { key: keyOfNumber(number) });
  return byNumber ?? (uid === null ? null : scope.em.findOne(ItemRow, { uid }));
}

const nextNumber = async (scope: Scope, kind: ItemKind): Promise<string> =>
  `${LETTERS[kind]}${(await lastNumber(scope, LETTERS[kind])) + 1}`;

const sameValues = (row: ItemRow, given: Partial<ItemRow>): boolean =>
  (Object.entries(given) as [keyof ItemRow, unknown][]).every(([name, value]) => {
    const was = row[name];
    return was instanceof Date || value instanceof Date
      ? (was as Date | null)?.getTime() === (value as Date | null)?.getTime()
      : was === value;
  });

const plain = (text: string, most: number): string =>
  cutText(cleanText(text).replace(/\s+/g, ' ').trim(), most);

/** An item as it was given in words, if each of them can be. */
export function checkItem(
  read: Omit<ReadItem, 'number'> & { number: string | null },
): Result<ReadItem, Refusal> {
  const url = read.url.trim();
  if (url !== '') {
    const target = readTarget(url);
    if (!target.ok) return invalid('link', `link: ${TARGET_WORDS[target.reason]}`);
  }
  const number = read.number === null ? null : plain(read.number, 40);
  const name = plain(read.name, 120);
  if (name === '') return invalid('name', 'name: must not be empty.');
  return ok({
    ...{ ...read, number: number === '' ? null : number, name, url },
    ...{ place: plain(read.place, 120), price: plain(read.price, 40) },
  });
}

/** One item by hand or by the API. */
export async function putItem(
  ctx: Context,
  scope: Scope,
  input: ItemInput,
  actor: Actor,
): Promise<Result<ItemRow, Refusal>> {
  const picture = input.picture ?? null;
  if (
    picture !== null &&
    !(await scope.em.findOne(MediaFile, { id: picture, kind: 'picture', arrivedAs: null }))
  )
    return invalid('picture', 'picture: is not kept here. Keep it first.');
  const instantOf = (text: string | null | undefined) => (text ? parseInstant(text) : null);
  const read = checkItem({
    ...{ number: input.number ?? null, kind: input.kind, name: input.name, place: input.place ?? '' },
    ...{ price: input.price ?? '', url: input.link ?? '', mediaId: picture, uid: null },
    ...{ startsAt: instantOf(input.starts_at), endsAt: instantOf(input.ends_at) },
    ...{ allDay: input.all_day ?? false, state: input.state ?? 'on' },
  });
  if (!read.ok) return read;
  const saved = await saveItem(ctx, scope, read.value, actor);
  return saved.ok ? ok(saved.value.item) : saved;
}

/** Offers it no more; texts that name it still do, and the check says so. */
export async function dropItem(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<ItemRow, Refusal>> {
  const item = await scope.em.findOne(ItemRow, { id });
  if (!item) return notFound('item');
  item.goneAt ??= new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, 'item.dropped', id, { number: item.number });
  return ok(item);
}

/** What is coming first, then what has no time, then what is over. */
export async function listItems(ctx: Pick<Context, 'now'>, scope: Scope, most = 500): Promise<ItemRow[]> {
  const at = ctx.now();
  const items = await scope.em.find(
    ItemRow,
    { goneAt: null },
    { orderBy: { startsAt: 'asc', id: 'asc' }, limit: 5_000 },
  );
  const rank = ({ startsAt, endsAt }: ItemRow) =>
    startsAt === null ? 1 : (endsAt ?? startsAt).getTime() > at ? 0 : 2;
  return items.sort((a, b) => rank(a) - rank(b)).slice(0, most);
}

/** One with its picture. */
export async function findItem(scope: Scope, id: string) {
  const item = await scope.em.findOne(ItemRow, { id });
  return item && { item, files: await filesById(scope, item.mediaId === null ? [] : [item.mediaId]) };
}

export interface ItemLine {
  item: ItemRow;
  /** People who were written to about it. */
  told: number;
}

/** For the page of items. */
export async function readItems(ctx: Pick<Context, 'now'>, scope: Scope): Promise<ItemLine[]> {
  const items = await listItems(ctx, scope);
  const told = new Map(
    (
      await peopleTold(
        scope,
        items.map(({ id }) => id),
      )
    ).map(({ item_id: id, people }) => [id, people]),
  );
  return items.map((item) => ({ item, told: told.get(item.id) ?? 0 }));
}
