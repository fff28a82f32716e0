import { fold } from '@/core/audience/fold';
import { ITEM_FIELDS, itemField, itemRefusal, itemWords, whenWords, type ItemField } from '@/core/item/item';
import { fieldSource } from '@/core/text/template';
import { Workspace } from '@/db/access/entities';
import type { ItemRow } from '@/db/items/entities';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { filesById } from '@/services/media/files';
import { keptFile } from '@/services/media/views';
import { itemOf } from './fill-items';
import { listItems } from './items';

const MOST_FOUND = 8;

const AGAINST = { over: 'over', 'sold-out': 'sold out', cancelled: 'cancelled' };

/** Things to write about by a part of their name or number, with what a text can say of each. */
export async function findItems(ctx: Pick<Context, 'now'>, scope: Scope, called: string) {
  const { zone, country } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const wanted = fold(called.trim()).split(/\s+/).filter(Boolean);
  const items = (await listItems(ctx, scope, 5_000))
    .filter(({ number, name }) => {
      const words = fold(`${number} ${name}`);
      return wanted.every((word) => words.includes(word));
    })
    .slice(0, MOST_FOUND);
  const files = await filesById(
    scope,
    items.flatMap(({ mediaId }) => mediaId ?? []),
  );
  return items.map((row) => {
    const item = itemOf(row);
    const words = itemWords(item, zone, country);
    const why = itemRefusal(item, ctx.now());
    const file = files.find(({ id }) => id === row.mediaId);
    return {
      ...{ number: row.number, name: row.name, when: whenWords(item, zone, country) },
      against: why && AGAINST[why],
      says: saysOf(row, words),
      file: file ? keptFile(file) : null,
    };
  });
}

/** The usual first: what it is, when, where, for how much, and where more of it stands; then each by itself. */
function saysOf({ number }: Pick<ItemRow, 'number'>, words: Record<ItemField, string>) {
  const source = (field: ItemField) => fieldSource(itemField(number, field), null);
  const some = (fields: readonly ItemField[]) => fields.filter((field) => words[field] !== '').map(source);
  const usual = [some(['name', 'when', 'place', 'price']).join(', '), ...some(['link'])].join(' ');
  return [
    { label: words.name, source: usual },
    ...ITEM_FIELDS.filter((field) => words[field] !== '').map((field) => ({
      label: `its ${field}: ${words[field]}`,
      source: source(field),
    })),
  ];
}
