import { addDays, isDay, type Day } from '../audience/days';
import type { DateOrder } from '../people/values';
import { plain } from '../reply/normalise';
import { ok, refuse, type Result } from '../shared/result';

const MONTHS: readonly string[][] = [
  ['jan', 'january', 'janvier', 'enero', 'januar', 'ene', 'janv'],
  ['feb', 'february', 'fevrier', 'febrero', 'februar', 'fev'],
  ['mar', 'march', 'mars', 'marzo', 'marz', 'maerz'],
  ['apr', 'april', 'avril', 'abril', 'avr', 'abr'],
  ['may', 'mai', 'mayo'],
  ['jun', 'june', 'juin', 'junio', 'juni'],
  ['jul', 'july', 'juillet', 'julio', 'juli', 'juil'],
  ['aug', 'august', 'aout', 'agosto', 'ago'],
  ['sep', 'sept', 'september', 'septembre', 'septiembre'],
  ['oct', 'october', 'octobre', 'octubre', 'oktober', 'okt'],
  ['nov', 'november', 'novembre', 'noviembre'],
  ['dec', 'december', 'decembre', 'diciembre', 'dezember', 'dez', 'dic'],
];

/** `partial` is a day without its year, as `05-05`: worth asking for the rest. */
export type DateAnswer = { day: Day } | { partial: string };
export type NoDate = 'no-date' | 'no-such-day';

interface Reading {
  /** The day on which it is answered, for years of two digits and `tomorrow`. */
  today: Day;
  /** Which of day and month stands first where both are numbers and either may be either. */
  order: DateOrder;
  /** What an earlier answer said of it, without the year. */
  partial?: string | null;
}

/** A date as people write it: `5th of May 1990`, `May 5`, `5/5/90`, `1990-05-05`, `mai 5`. */
export function readWrittenDate(body: string, reading: Reading): Result<DateAnswer, NoDate> {
  const text = plain(body);
  const relative = RELATIVE[text];
  if (relative !== undefined) return ok({ day: addDays(reading.today, relative) });
  if (reading.partial) {
    const year = /^(?:(?:in|of|the|year|born|its|it was|i was born in) )*(\d{4}|\d{2})$/.exec(text)?.[1];
    if (year) return existing(wholeYear(year, reading.today), reading.partial);
  }
  return byName(text, reading) ?? byNumbers(body, reading) ?? refuse('no-date');
}

const RELATIVE: Record<string, number> = { today: 0, yesterday: -1, tomorrow: 1 };

/** Two digits are the last such year that has come: a birthday is none of the future. */
function wholeYear(digits: string, today: Day): number {
  if (digits.length === 4) return Number(digits);
  const century = Math.floor(Number(today.slice(0, 4)) / 100) * 100;
  const year = century + Number(digits);
  return year > Number(today.slice(0, 4)) ? year - 100 : year;
}

const two = (n: number | string): string => String(n).padStart(2, '0');

const existing = (year: number, monthDay: string): Result<DateAnswer, NoDate> => {
  const day = `${String(year).padStart(4, '0')}-${monthDay}`;
  return isDay(day) ? ok({ day }) : refuse('no-such-day');
};

const partly = (monthDay: string): Result<DateAnswer, NoDate> =>
  // In a leap year every day of the calendar exists.
  isDay(`2000-${monthDay}`) ? ok({ partial: monthDay }) : refuse('no-such-day');

/** With the month as a word, around which the numbers say what they are. */
function byName(text: string, { today }: Reading): Result<DateAnswer, NoDate> | null {
  const words = text.split(' ').filter((word) => !LINKING.has(word));
  const at = words.findIndex((word) => monthOf(word) > 0);
  if (at < 0) return null;
  const month = monthOf(words[at]!);
  const numbers = words
    .map((word, i) => ({ n: /^(\d{1,4})(?:st|nd|rd|th|er|ter|te|º)?$/.exec(word)?.[1] ?? ORDINALS[word], i }))
    .filter((one): one is { n: string; i: number } => one.n !== undefined);
  const years = numbers.filter(({ n }) => n.length === 4);
  const small = numbers.filter(({ n }) => n.length <= 2);
  if (years.length > 1 || small.length === 0 || small.length > 2) return null;
  // The nearer one is the day: `5 May 90`, `May 5 90`.
  const [day, rest] = [...small].sort((a, b) => Math.abs(a.i - at) - Math.abs(b.i - at) || a.i - b.i);
  if (rest && years.length > 0) return null;
  const year = years[0]?.n ?? rest?.n;
  const monthDay = `${two(month)}-${two(day!.n)}`;
  return year === undefined ? partly(monthDay) : existing(wholeYear(year, today), monthDay);
}

/** Between a day and its month, where they would put the year nearer. */
const LINKING: ReadonlySet<string> = new Set(['of', 'the', 'in', 'de', 'del', 'du', 'le', 'el', 'den', 'am']);

const monthOf = (word: string): number => MONTHS.findIndex((names) => names.includes(word)) + 1;

const ORDINALS: Record<string, string> = Object.fromEntries(
  (
    'first second third fourth fifth sixth seventh eighth ninth tenth eleventh twelfth thirteenth fourteenth fifteenth ' +
    'sixteenth seventeenth eighteenth nineteenth twentieth'
  )
    .split(' ')
    .map((word, i) => [word, String(i + 1)]),
);

function byNumbers(body: string, { today, order }: Reading): Result<DateAnswer, NoDate> | null {
  const text = body.normalize('NFKC');
  const iso = /(?<!\d)(\d{4})[-/. ](\d{1,2})[-/. ](\d{1,2})(?!\d)/.exec(text);
  if (iso) return existing(Number(iso[1]), `${two(iso[2]!)}-${two(iso[3]!)}`);
  // `19900505`; where that is no day of these centuries the year stands last, as in `05051990`.
  const [, ...basic] = /(?<!\d)((?:19|20)\d\d)(\d\d)(\d\d)(?!\d)/.exec(text) ?? [];
  if (isDay(basic.join('-'))) return ok({ day: basic.join('-') });
  const found = /(?<!\d)(\d{1,2})\s?[-/. ]\s?(\d{1,2})(?:\s?[-/. ]\s?(\d{4}|\d{2}))?(?!\d)/.exec(text);
  const packed = /(?<!\d)(\d{2})(\d{2})(\d{4})(?!\d)/.exec(text);
  const [, first, second, year] = found ?? packed ?? [];
  if (!first || !second) return null;
  const swapped = Number(first) > 12 || (order === 'day-month' && Number(second) <= 12);
  const monthDay = swapped ? `${two(second)}-${two(first)}` : `${two(first)}-${two(second)}`;
  return year === undefined ? partly(monthDay) : existing(wholeYear(year, today), monthDay);
}
