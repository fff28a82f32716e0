import {
  getCountries,
  isSupportedCountry,
  parsePhoneNumberFromString,
  type CountryCode,
} from 'libphonenumber-js/max';
import type { Brand } from '../shared/brand';
import { ok, refuse, type Result } from '../shared/result';

/** A phone number in E.164 form, such as `+13035550123`. */
export type PhoneNumber = Brand<string, 'PhoneNumber'>;

export type NumberRefusal =
  | 'number-empty'
  | 'number-unreadable'
  | 'number-too-short'
  | 'number-too-long'
  | 'number-impossible';

export const NUMBER_WORDS: Record<NumberRefusal, string> = {
  'number-empty': 'number: type a phone number, such as (303) 555-0123.',
  'number-unreadable':
    'number: this is not a phone number. Use digits, such as (303) 555-0123 or +13035550123.',
  'number-too-short':
    'number: digits are missing. A number has an area code and seven digits, such as (303) 555-0123.',
  'number-too-long': 'number: too many digits. Use ten digits, or + and the country code.',
  'number-impossible': 'number: no phone can have this number. Check the area code and the digits.',
};

/**
 * Reads a number as people write it. `country` is the workspace's, for numbers without a country code.
 * A possible number that is not in the published ranges passes: new area codes lag behind.
 */
export function parseNumber(input: string, country: string = 'US'): Result<PhoneNumber, NumberRefusal> {
  const text = plainDashes(input.normalize('NFKC')).trim();
  if (text === '') return refuse('number-empty');
  if (text.length > 40) return refuse('number-too-long');
  if (!/^[+\d(][\d\s().+\-/#x]*$/i.test(text)) return refuse('number-unreadable');
  const parsed = parsePhoneNumberFromString(text, { defaultCountry: country as CountryCode, extract: false });
  if (!parsed) return refuse(text.replace(/\D/g, '').length < 7 ? 'number-too-short' : 'number-unreadable');
  const northAmerican = parsed.countryCallingCode === '1';
  // Area code and exchange never begin with 0 or 1 (North American Numbering Plan).
  if (northAmerican && parsed.isPossible() && !/^[2-9]\d{2}[2-9]\d{6}$/.test(parsed.nationalNumber))
    return refuse('number-impossible');
  if (parsed.isPossible()) return ok(parsed.number as string as PhoneNumber);
  const digits = parsed.nationalNumber.length;
  return refuse(digits < 10 ? 'number-too-short' : digits > 10 ? 'number-too-long' : 'number-impossible');
}

/** Whether it is in the ranges that its country gives out. */
export const isGivenOut = (number: PhoneNumber): boolean =>
  parsePhoneNumberFromString(number)?.isValid() ?? false;

/** Word processors write 719–555–0123, with dashes that are none of a keyboard's (NFKC makes one of them another). */
const plainDashes = (text: string): string => text.replace(/[\u2010-\u2015\u2212\u00ad]/g, '-');

/** The country a number belongs to, two letters; null: nothing tells. Those of one area code are asked for once. */
export function countryOf(number: string): string | null {
  const prefix = number.slice(0, 5);
  const known = COUNTRIES.get(prefix);
  if (known !== undefined && number.startsWith('+1')) return known;
  const country = parsePhoneNumberFromString(number)?.country ?? null;
  if (COUNTRIES.size < 10_000) COUNTRIES.set(prefix, country);
  return country;
}

const COUNTRIES = new Map<string, string | null>();

/** `(303) 555-0123` for a number of the same country, `+44 20 …` for others; an e-mail address as it is; nothing for none. */
export function displayNumber(number: string | null): string {
  if (number === null) return '';
  const us = /^\+1(\d{3})(\d{3})(\d{4})$/.exec(number);
  if (us) return `(${us[1]}) ${us[2]}-${us[3]}`;
  return /^\+\d+$/.test(number)
    ? (parsePhoneNumberFromString(number)?.formatInternational() ?? number)
    : number;
}

/** The area code of a number of the North American plan, else null. */
export const areaCodeOf = (number: string): string | null => /^\+1(\d{3})\d{7}$/.exec(number)?.[1] ?? null;

/** Countries whose numbers can be read, by their two letters. */
export const knownCountries = (): readonly string[] => getCountries();

/** What a country is called. */
export const countryName = (country: string): string => NAMES.of(country) ?? country;

const NAMES = new Intl.DisplayNames('en', { type: 'region' });

/** Whether numbers of this country, by its two letters, can be read. */
export const knowsCountry = (country: string): boolean => isSupportedCountry(country);
