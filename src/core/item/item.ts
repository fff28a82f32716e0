import { offsetAt } from '../shared/zone';
import type { Millis } from '../shared/instant';
import { templateFromPlain } from '../text/template';
import { tokensOf } from '../wording/reading';

/** What a business writes about: an event or a tour at a time, an article that can be bought. */
export const ITEM_KINDS = ['event', 'tour', 'article'] as const;
export type ItemKind = (typeof ITEM_KINDS)[number];

/**
 * on         it can be had
 * sold-out   there is none left; it still takes place
 * cancelled  it does not take place, or is not made any more
 */
export const ITEM_STATES = ['on', 'sold-out', 'cancelled'] as const;
export type ItemState = (typeof ITEM_STATES)[number];

export const ITEM_STATE_WORDS: Record<ItemState, string> = {
  on: 'on',
  'sold-out': 'sold out',
  cancelled: 'cancelled',
};

/** What a text may say of an item. */
export const ITEM_FIELDS = ['name', 'when', 'place', 'price', 'link', 'number'] as const;
export type ItemField = (typeof ITEM_FIELDS)[number];

export interface Item {
  /** Its number, as the business writes it: `E-204`. */
  number: string;
  kind: ItemKind;
  name: string;
  place: string;
  /** As it is written: `12 USD`. */
  price: string;
  /** Empty: it has none. */
  url: string;
  /** When it begins and ends; null: at no time, or nobody said. */
  startsAt: Millis | null;
  endsAt: Millis | null;
  /** It is on all day: no hour is named. */
  allDay: boolean;
  state: ItemState;
}

const LONGEST_KEY = 40;

/** An item's number in the name of a merge field: `E-204` is `e_204`. Empty: it holds no letter and no digit. */
export const keyOfNumber = (number: string): string =>
  number
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .slice(0, LONGEST_KEY);

export const itemField = (number: string, field: ItemField): string => `item.${keyOfNumber(number)}.${field}`;

const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** When it is, as a text says it, in letters that cost nothing: `Fri, Dec 4, 7:30 pm`, or `Fri 4 Dec, 19:30` outside the US. */
export function whenWords(
  { startsAt, allDay }: Pick<Item, 'startsAt' | 'allDay'>,
  zone: string,
  country: string,
): string {
  if (startsAt === null) return '';
  const local = new Date(startsAt + offsetAt(zone, startsAt));
  const [weekday, month, day] = [DAYS[local.getUTCDay()]!, MONTHS[local.getUTCMonth()]!, local.getUTCDate()];
  const american = country === 'US';
  const date = american ? `${weekday}, ${month} ${day}` : `${weekday} ${day} ${month}`;
  return allDay ? date : `${date}, ${clock(local, american)}`;
}

function clock(local: Date, american: boolean): string {
  const [hours, minutes] = [local.getUTCHours(), String(local.getUTCMinutes()).padStart(2, '0')];
  if (!american) return `${String(hours).padStart(2, '0')}:${minutes}`;
  const half = hours < 12 ? 'am' : 'pm';
  return `${hours % 12 || 12}${minutes === '00' ? '' : `:${minutes}`} ${half}`;
}

export const itemWords = (item: Item, zone: string, country: string): Record<ItemField, string> => ({
  ...{ name: item.name, place: item.place, price: item.price, link: item.url, number: item.number },
  when: whenWords(item, zone, country),
});

/** Why it should not be written about at an instant; null: it can be. What has begun is over for who reads of it now. */
export function itemRefusal(
  { state, startsAt, endsAt }: Pick<Item, 'state' | 'startsAt' | 'endsAt'>,
  at: Millis,
): 'sold-out' | 'cancelled' | 'over' | null {
  if (state !== 'on') return state;
  const end = endsAt ?? startsAt;
  return end !== null && end <= at ? 'over' : null;
}

const FIELD = /^item\.([a-z0-9_]+)\.(\w+)$/;

/** The items a stored text names, by key, each once. */
export const itemsNamed = (source: string): string[] =>
  source.includes('{$item.')
    ? [
        ...new Set(
          tokensOf(source).flatMap(({ is }) => ('field' in is ? (FIELD.exec(is.field)?.[1] ?? []) : [])),
        ),
      ]
    : [];

/**
 * A stored text with what it says of items put in, which is the same for everybody. What an item does not have stays as
 * it is, so that its fallback stands in, or nobody gets it.
 */
export function withItems(source: string, words: ReadonlyMap<string, Record<ItemField, string>>): string {
  return tokensOf(source).reduceRight((text, { from, to, is }) => {
    const [, key, field] = ('field' in is && FIELD.exec(is.field)) || [];
    const value = key && words.get(key)?.[field as ItemField];
    return value ? text.slice(0, from) + plainWords(value) + text.slice(to) : text;
  }, source);
}

/** Words inside a text: only the beginning of a whole template needs quoting. */
const plainWords = (words: string): string => templateFromPlain(`x${words}`).slice(1);
