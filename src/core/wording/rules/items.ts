import { itemRefusal, itemWords, type ItemField } from '../../item/item';
import type { WordingContext } from '../context';
import type { Found } from '../finding';
import type { ReadField, Reading } from '../reading';

const FIELD = /^item\.([a-z0-9_]+)\.(\w+)$/;

interface Named {
  field: ReadField;
  key: string;
  says: ItemField;
}

const namedIn = ({ fields }: Reading): Named[] =>
  fields.flatMap((field) => {
    const [, key, says] = FIELD.exec(field.name) ?? [];
    return key ? [{ field, key, says: says as ItemField }] : [];
  });

const AGAINST = {
  over: 'will be over when this leaves',
  'sold-out': 'is sold out',
  cancelled: 'is cancelled',
};

/** What it is about is over, sold out or cancelled. Told once of each. */
export function itemOver(reading: Reading, { items, at }: WordingContext): Found[] {
  const seen = new Set<string>();
  return namedIn(reading).flatMap(({ field, key }): Found[] => {
    const item = items.get(key);
    const why = item && itemRefusal(item, at);
    if (!why || seen.has(key)) return [];
    seen.add(key);
    const message = `${item.number} ${item.name} ${AGAINST[why]}. Write about another one.`;
    return [{ message, place: { from: field.from, to: field.to }, mending: null }];
  });
}

/** It says something that what it is about does not have, or it is not kept any more. */
export const itemLacks = (reading: Reading, { items, zone, country }: WordingContext): Found[] =>
  namedIn(reading).flatMap(({ field: { label, fallback, from, to }, key, says }): Found[] => {
    const item = items.get(key);
    if (item && itemWords(item, zone, country)[says] !== '') return [];
    if (item && fallback !== null) return [];
    const message = item
      ? `${item.number} ${item.name} has no ${says}. Take “${label}” out, or give it one.`
      : `“${label}” is of something that is not kept here any more. Take it out.`;
    return [
      {
        message,
        place: { from, to },
        mending: { label: 'Take it out', changes: [{ from, to, insert: '' }] },
      },
    ];
  });
