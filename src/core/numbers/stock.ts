import { areaCodeOf } from '../phone/number';
import { regionOfArea } from '../phone/place';
import type { SenderKind } from '../clearance/sender';

/** A number that a provider lets. */
export interface StockNumber {
  /** E.164, or the digits of a short code. */
  number: string;
  kind: SenderKind;
  /** Where it is from; empty: nowhere in particular. */
  town: string;
  sms: boolean;
  mms: boolean;
  voice: boolean;
  /** Credits once, and each month. */
  setup: number;
  monthly: number;
}

/** A number with who lets it: two providers may let the same one, each at its price. */
export interface Offer extends StockNumber {
  provider: { id: string; name: string };
}

/** What several providers let, by number, of the same number the cheaper first. */
export const offersOf = (
  stocks: readonly { provider: Offer['provider']; numbers: readonly StockNumber[] }[],
): Offer[] =>
  stocks
    .flatMap(({ provider, numbers }) => numbers.map((number): Offer => ({ ...number, provider })))
    .sort(
      (a, b) =>
        a.number.localeCompare(b.number) ||
        a.monthly - b.monthly ||
        a.setup - b.setup ||
        a.provider.name.localeCompare(b.provider.name),
    );

/** What somebody looks for; null: any. */
export interface StockWish {
  kind: SenderKind | null;
  area: string | null;
  town: string | null;
  /** Digits that stand in it, in this order and side by side. */
  digits: string | null;
  pictures: boolean;
  calls: boolean;
}

/** Letters as they stand on the keys of a telephone (ITU-T E.161), so that “STAR” finds 7827. */
const KEYS: Readonly<Record<string, string>> = Object.fromEntries(
  ['abc', 'def', 'ghi', 'jkl', 'mno', 'pqrs', 'tuv', 'wxyz'].flatMap((letters, i) =>
    [...letters].map((letter) => [letter, String(i + 2)] as const),
  ),
);

/** Digits, or a word as its keys; null: there is none in it. */
export const digitsOf = (typed: string): string | null =>
  [...typed.toLowerCase()]
    .map((letter) => KEYS[letter] ?? letter)
    .join('')
    .replace(/\D/g, '') || null;

/** How many people are texted, by the area code of their number, and which numbers of ours they would know. */
export interface AreaNeed {
  area: string;
  /** The state or province. */
  region: string;
  people: number;
  /** One of our numbers is from there. */
  known: boolean;
}

/**
 * Where people live who have no number of ours from near them, the most first: they answer a number that looks like theirs.
 * @param people by number of people of each area code @param numbers ours, as they are kept
 */
export function areasWanted(
  people: readonly { area: string; people: number }[],
  numbers: readonly string[],
): AreaNeed[] {
  const ours = new Set(numbers.map((number) => areaCodeOf(number)));
  return people
    .flatMap(({ area, people: n }): AreaNeed[] => {
      const region = regionOfArea(area);
      return region === null ? [] : [{ area, region, people: n, known: ours.has(area) }];
    })
    .sort((a, b) => Number(a.known) - Number(b.known) || b.people - a.people || a.area.localeCompare(b.area));
}

/** E.164, or the digits of a short code. */
export const isSenderNumber = (number: string): boolean => /^(?:\+[1-9]\d{7,14}|\d{5,6})$/.test(number);
