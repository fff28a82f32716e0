import { findPhoneNumbersInText, type CountryCode } from 'libphonenumber-js/max';
import { displayNumber } from '../../phone/number';
import type { WordingContext } from '../context';
import type { Found } from '../finding';
import { findAll, placeOf, type Reading } from '../reading';

const PRICE =
  /(?:(?<sign>US\$|CA\$|A\$|[$€£¥])\s?\d[\d,.]{0,15}|(?<![\d,.])\d[\d,.]{0,15}\s?(?<after>€|£|¥|\b(?:USD|CAD|EUR|GBP|AUD|dollars?|bucks|euros?|pounds(?! of| off| lost)|quid)\b))(?<code>\s?(?:USD|CAD|EUR|GBP|AUD)\b)?/giu;

const CURRENCIES: readonly [RegExp, string][] = [
  [/CAD|CA\$/i, 'Canadian dollars'],
  [/AUD|A\$/i, 'Australian dollars'],
  [/\$|USD|dollar|bucks/i, 'dollars'],
  [/€|EUR/i, 'euros'],
  [/£|GBP|pound|quid/i, 'pounds'],
  [/¥/, 'yen'],
];

export function twoCurrencies(reading: Reading): Found[] {
  const prices = findAll(reading, PRICE).map((match) => {
    const { sign = '', after = '', code = '' } = match.groups!;
    const said = code.trim() || sign || after;
    return { match, currency: CURRENCIES.find(([pattern]) => pattern.test(said))?.[1] ?? said };
  });
  const other = prices.find(({ currency }) => currency !== prices[0]!.currency);
  if (!other) return [];
  return [
    {
      message: `Prices in ${prices[0]!.currency} and in ${other.currency}: which is meant?`,
      place: placeOf(reading, other.match),
      mending: null,
    },
  ];
}

/** Numbers on which somebody can be called; those of the business and the program's own are known. */
export const foreignNumber = (reading: Reading, { business, country }: WordingContext): Found[] =>
  findPhoneNumbersInText(reading.text, country as CountryCode)
    .filter(({ number }) => !business.numbers.includes(number.number))
    // An amount, a year or an order number is none: somebody wrote it as a number for the phone.
    .filter(
      ({ startsAt, endsAt }) =>
        /^[+(]|\d[\s().-]\d/.test(reading.text.slice(startsAt, endsAt)) || asked(reading.text, startsAt),
    )
    .map(({ startsAt, endsAt, number }) => ({
      message: `${displayNumber(number.number)} is none of your numbers. Is it right?`,
      place: reading.place(startsAt, endsAt),
      mending: null,
    }));

const asked = (text: string, at: number): boolean =>
  /\b(?:call|text|phone|tel|ring|dial|at|on|me|us|fax|sms)[\s:.]*$/i.test(text.slice(0, at));
