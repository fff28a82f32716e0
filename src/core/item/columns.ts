import { fold } from '../audience/fold';

/** What a column of a file of items can hold. */
export const ITEM_COLUMNS = [
  'number',
  'kind',
  'name',
  'starts',
  'ends',
  'place',
  'price',
  'link',
  'state',
] as const;
export type ItemColumn = (typeof ITEM_COLUMNS)[number];

/** What columns are called. The first of a file that fits is taken. */
const CALLED: Record<ItemColumn, readonly string[]> = {
  number: ['number', 'no', 'nr', 'id', 'code', 'sku', 'article number', 'event id', 'item'],
  kind: ['kind', 'type', 'category'],
  name: ['name', 'title', 'event', 'tour', 'article', 'product', 'summary', 'what'],
  starts: [
    'starts',
    'start',
    'begins',
    'date',
    'when',
    'start date',
    'starts at',
    'date and time',
    'start time',
  ],
  ends: ['ends', 'end', 'until', 'end date', 'ends at', 'end time'],
  place: ['place', 'location', 'where', 'venue', 'room'],
  price: ['price', 'cost', 'fee', 'ticket', 'admission'],
  link: ['link', 'url', 'website', 'web', 'page', 'tickets'],
  state: ['state', 'status', 'availability', 'available'],
};

/** Which column holds what, by its header; what is not known is left out. */
export function itemColumns(header: readonly string[]): Partial<Record<ItemColumn, number>> {
  const folded = header.map((cell) =>
    fold(cell)
      .replace(/[_\s-]+/g, ' ')
      .trim(),
  );
  const found: Partial<Record<ItemColumn, number>> = {};
  const taken = new Set<number>();
  for (const column of ITEM_COLUMNS)
    for (const name of CALLED[column]) {
      const at = folded.findIndex((cell, i) => cell === name && !taken.has(i));
      if (at < 0) continue;
      found[column] = at;
      taken.add(at);
      break;
    }
  return found;
}
