import { NUMBER_VALUE, type OwnFieldKind } from '../audience/fields';
import { isDay } from '../audience/days';
import { fold } from '../audience/fold';
import { cleanText } from '../shared/clean-text';
import { ok, refuse, type Result } from '../shared/result';

/** A workspace's own field. */
export interface OwnField {
  key: string;
  label: string;
  kind: OwnFieldKind;
  /** For one of several and several of several. */
  options: string[];
}

/** Text in the form of the field's kind (`12.5`, `2026-11-24`, `yes`), or the chosen ones of several. */
export type OwnValue = string | string[];
export type OwnValues = Record<string, OwnValue>;

export type ValueRefusal =
  | 'too-long'
  | 'not-a-number'
  | 'not-a-date'
  | 'day-does-not-exist'
  | 'not-yes-no'
  | 'not-an-option';

export const VALUE_WORDS: Record<ValueRefusal, string> = {
  'too-long': 'is too long: at most 500 characters.',
  'not-a-number': 'is not a number. Write digits, such as 1250 or 12.5.',
  'not-a-date': 'is not a date. Write 2026-11-24.',
  'day-does-not-exist': 'is a day that does not exist. Write another, such as 2026-11-24.',
  'not-yes-no': 'is neither yes nor no.',
  'not-an-option': 'is not one of the choices of this field.',
};

const LONGEST = 500;

/** What people type, in one dress: well-formed, composed letters, no space around. */
export const clean = (text: string): string => cleanText(text).normalize('NFC').trim();

/** Order of day and month where a date is written with numbers only. */
export type DateOrder = 'day-month' | 'month-day';

/** Reads what somebody typed or a file holds. Null: empty. `order` decides 03/04/2026; without it only 2026-04-03 is read. */
export function readOwnValue(
  field: Pick<OwnField, 'kind' | 'options'>,
  raw: string,
  order: DateOrder | null = null,
): Result<OwnValue | null, ValueRefusal> {
  const text = clean(raw);
  if (text === '') return ok(null);
  if (text.length > LONGEST) return refuse('too-long');
  switch (field.kind) {
    case 'text':
      return ok(text);
    case 'number':
      return readNumber(text);
    case 'date':
      return readDate(text, order);
    case 'yes-no':
      return readYesNo(text);
    case 'one-of': {
      const option = optionOf(field.options, text);
      return option ? ok(option) : refuse('not-an-option');
    }
    case 'several-of':
      return readSeveral(field.options, text);
  }
}

const optionOf = (options: readonly string[], text: string): string | undefined =>
  options.find((option) => fold(option) === fold(text));

function readSeveral(options: readonly string[], text: string): Result<string[] | null, ValueRefusal> {
  const whole = optionOf(options, text);
  if (whole) return ok([whole]);
  const chosen = text
    .split(/[;,|\n]/)
    .map(clean)
    .filter((one) => one !== '');
  const found = chosen.map((one) => optionOf(options, one));
  if (found.some((one) => one === undefined)) return refuse('not-an-option');
  const kept = options.filter((option) => found.includes(option));
  return ok(kept.length > 0 ? kept : null);
}

function readNumber(text: string): Result<string, ValueRefusal> {
  // 1,250.5 with commas between thousands; anything else with a comma would be a guess.
  const plain = /^-?\d{1,3}(,\d{3})+(\.\d+)?$/.test(text)
    ? text.replaceAll(',', '')
    : text.replace(/^\+/, '');
  const short = plain
    .replace(/^(-?)0+(?=\d)/, '$1')
    .replace(/(\.\d*?)0+$/, '$1')
    .replace(/\.$/, '');
  return NUMBER_VALUE.test(short) ? ok(short === '-0' ? '0' : short) : refuse('not-a-number');
}

const YES = new Set(['yes', 'y', 'true', '1', 'x', 'si', 'sí', 'oui', 'ja']);
const NO = new Set(['no', 'n', 'false', '0', 'non', 'nein']);

function readYesNo(text: string): Result<string, ValueRefusal> {
  const folded = fold(text);
  return YES.has(folded) ? ok('yes') : NO.has(folded) ? ok('no') : refuse('not-yes-no');
}

const MONTH_NAMES = 'jan feb mar apr may jun jul aug sep oct nov dec'.split(' ');

/** A year of two digits is one of 1930 to 2029, as spreadsheets have it. */
const yearOf = (written: string): string =>
  written.length === 4 ? written : `${Number(written) < 30 ? '20' : '19'}${written}`;

/** `Nov 24, 2026`, `24 November 2026`, `24-Nov-2026`, `24-Nov-26`. */
function namedDate(text: string): Result<string, ValueRefusal> | null {
  const first = /^([a-z]{3,9})[. -]+(\d{1,2})(?:st|nd|rd|th)?[, -]+['’]?(\d{4}|\d{2})$/i.exec(text);
  const after = /^(\d{1,2})(?:st|nd|rd|th)?[. -]+([a-z]{3,9})[., -]+['’]?(\d{4}|\d{2})$/i.exec(text);
  const [month, day, year] = first ? first.slice(1) : after ? [after[2], after[1], after[3]] : [];
  const at = MONTH_NAMES.indexOf((month ?? '').slice(0, 3).toLowerCase());
  return at < 0 ? null : existing(yearOf(year!), String(at + 1), day!);
}

/**
 * A day and a month in numbers, in the order in which they stand, and the year. Of two digits it stands behind strokes or dots:
 * `26-11-24` may begin with the year.
 */
function numbersOfDay(text: string): [first: string, second: string, year: string] | null {
  const [, first, second, year] = /^(\d{1,2})[-/. ](\d{1,2})[-/. ](\d{4})$/.exec(text) ?? [];
  if (year !== undefined) return [first!, second!, year];
  const [, one, , other, short] = /^(\d{1,2})([/.])(\d{1,2})\2(\d{2})$/.exec(text) ?? [];
  return short === undefined ? null : [one!, other!, yearOf(short)];
}

/** What is written without the day of the week before it and the hour behind it. */
const withoutHour = (written: string): string =>
  written
    .trim()
    .replace(/^(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?,? +/i, '')
    .replace(/,?(?:[T ]| at )\d{1,2}:\d{2}.*$/, '');

/** A date as `2026-11-24`. Numbers alone are read in the order given, English names of months in any. */
export function readDate(raw: string, order: DateOrder | null): Result<string, ValueRefusal> {
  const text = withoutHour(raw);
  const iso = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/.exec(text);
  if (iso) return existing(iso[1]!, iso[2]!, iso[3]!);
  const plain = numbersOfDay(text);
  if (plain && order) {
    const [first, second, year] = plain;
    return order === 'day-month' ? existing(year, second, first) : existing(year, first, second);
  }
  return namedDate(text) ?? refuse('not-a-date');
}

function existing(year: string, month: string, day: string): Result<string, ValueRefusal> {
  const text = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`;
  return isDay(text) ? ok(text) : refuse('day-does-not-exist');
}

/**
 * What a column of dates says of its own order: one that some value allows only (25/03), both when the values do not
 * decide, none where no order is needed (2026-03-25, Mar 25, 2026). Mixed orders are asked about, never guessed.
 */
export function dateOrders(values: readonly string[]): DateOrder[] | 'mixed' {
  let dayFirst = true;
  let monthFirst = true;
  const dates = values.flatMap((value) => {
    const parts = numbersOfDay(withoutHour(value));
    return parts ? [parts] : [];
  });
  if (dates.length === 0) return [];
  for (const parts of dates) {
    const [first, second] = [Number(parts[0]), Number(parts[1])];
    // No day in either order: a slip, which says nothing of the others.
    if (first > 12 && second > 12) continue;
    if (first > 12) monthFirst = false;
    if (second > 12) dayFirst = false;
  }
  if (!dayFirst && !monthFirst) return 'mixed';
  return [...(dayFirst ? (['day-month'] as const) : []), ...(monthFirst ? (['month-day'] as const) : [])];
}

/** Of letters, digits and underscores only. */
const LONGEST_KEY = 36;

/** The key of a new field, from its label: `Favourite planet` is `favourite_planet`. Unique among `taken`. */
export function keyOf(label: string, taken: readonly string[]): string {
  const plain = label
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .slice(0, LONGEST_KEY);
  // `constructor` would find what every object has.
  const base = /^[a-z]/.test(plain) && !(plain in {}) ? plain : `field_${plain}`.replace(/_$/, '');
  for (let n = 1; ; n++) {
    const key = n === 1 ? base : `${base}_${n}`;
    if (!taken.includes(key)) return key;
  }
}

/** A value as a person reads it. */
export const showOwnValue = (value: OwnValue | undefined): string =>
  value === undefined ? '' : Array.isArray(value) ? value.join(', ') : value;
