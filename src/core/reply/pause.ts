import { DAY, type Millis } from '../shared/instant';
import { dayNumberAt, instantOn } from '../shared/zone';
import { HOLIDAYS, numberOf, weekdayOf } from './holidays';
import { plain } from './normalise';

/** For how long somebody wishes to hear nothing. */
export interface PauseWish {
  /** The first instant at which texts may go again: the beginning of a day where they are. */
  until: Millis;
  /** The words that say how long, in their plainest dress; null: they do not, and a month is proposed. */
  words: string | null;
}

/**
 * How long the words of a reply ask for quiet, counted from when it came. A proposal for a human: the reply itself is
 * held as unclear. Read in English, Spanish and French, as far as ordinary ways to say it go.
 * @param zone where the writer is: days begin there
 */
export function pauseWish(body: string, at: Millis, zone: string): PauseWish {
  const text = plain(body);
  const today = dayNumberAt(zone, at);
  for (const { says, day } of WAYS) {
    const found = says.exec(text);
    const until = found && day(found, today);
    if (until !== null && until > today)
      return { until: instantOn(Math.min(until, today + LONGEST_DAYS), '00:00', zone), words: found![0] };
  }
  return { until: instantOn(today + UNSAID_DAYS, '00:00', zone), words: null };
}

/** What is proposed where nobody says how long. */
const UNSAID_DAYS = 30;
/** A pause longer than that is asked anew. */
export const LONGEST_DAYS = 366;

interface Way {
  says: RegExp;
  /** The first day on which texts may go again, as `dayNumberAt` counts; null: the words say no day. */
  day(found: RegExpExecArray, today: number): number | null;
}

/** Names of the calendar in three languages, each in its plainest dress, with their number. */
const namesOf = (
  format: Intl.DateTimeFormatOptions,
  many: number,
  instantOf: (nth: number) => number,
): ReadonlyMap<string, number> =>
  new Map(
    ['en', 'es', 'fr'].flatMap((language) => {
      const name = new Intl.DateTimeFormat(language, { ...format, timeZone: 'UTC' });
      return Array.from({ length: many }, (_, nth) => [plain(name.format(instantOf(nth))), nth] as const);
    }),
  );

const middleOf = (month: number) => Date.UTC(2026, month, 15);
/** Months from 0, short and whole. */
const MONTHS = new Map([
  ...namesOf({ month: 'short' }, 12, middleOf),
  ...namesOf({ month: 'long' }, 12, middleOf),
]);
/** Days of the week from Monday, 0. */
const WEEKDAYS = namesOf({ weekday: 'long' }, 7, (day) => Date.UTC(2026, 5, 1 + day));
/** "May" and "march" are words of their own: a month after "until" they are all the same. */
const MONTH = [...MONTHS.keys()].join('|');
const WEEKDAY = [...WEEKDAYS.keys()].join('|');

const COUNTS: Record<string, number> = {
  ...{ a: 1, an: 1, one: 1, the: 1, un: 1, una: 1, une: 1, two: 2, dos: 2, deux: 2, couple: 2 },
  ...{
    three: 3,
    tres: 3,
    trois: 3,
    few: 3,
    some: 3,
    unas: 3,
    quelques: 3,
    four: 4,
    five: 5,
    six: 6,
    ten: 10,
  },
};
/** How many, and of what, as patterns over plain text. */
export const COUNT = `\\d{1,3}|${Object.keys(COUNTS).join('|')}`;
const countOf = (word: string): number => COUNTS[word] ?? Number(word);

const UNIT_DAYS: readonly [RegExp, number][] = [
  [/^(?:day|dia|jour)/, 1],
  [/^(?:w|sem)/, 7],
  [/^(?:month|mes|mois)/, 30],
  [/^(?:year|ano|an$)/, 365],
];
export const UNIT =
  'days?|weeks?|wks?|months?|years?|dias?|semanas?|mes(?:es)?|anos?|jours?|semaines?|mois|an';
const daysOf = (unit: string): number => UNIT_DAYS.find(([name]) => name.test(unit))![1];

const UNTIL =
  '(?:until|till|til|through|hasta|jusqua|jusqu a|jusquau|jusqu au|jusquen|jusqu en|before|(?:back|again) (?:on|in|after))';
/** What may stand between: "until after finals", "until we get home in". */
const GAP = '(?:(?!and\\b|but\\b)\\w+ ){0,6}?';
/** The month after which a season is over, from 0. */
const SEASON_END: Record<string, number> = {
  ...{
    summer: 8,
    verano: 8,
    ete: 8,
    winter: 2,
    invierno: 2,
    hiver: 2,
    spring: 5,
    primavera: 5,
    printemps: 5,
  },
  ...{ fall: 11, autumn: 11, otono: 11, automne: 11, holidays: 0, fiestas: 0, fetes: 0 },
};

/** The month with which a season begins, from 0. */
const SEASON_BEGIN: Record<string, number> = {
  ...{ spring: 2, primavera: 2, printemps: 2, summer: 5, verano: 5, ete: 5 },
  ...{ fall: 8, autumn: 8, otono: 8, automne: 8, winter: 11, invierno: 11, hiver: 11 },
};

const dateOf = (day: number): Date => new Date(day * DAY);

/** The next such day that is not over: a day without its year is the coming one. */
function coming(month: number, day: number, today: number): number {
  const year = dateOf(today).getUTCFullYear();
  const thisYear = numberOf(year, month, day);
  return thisYear > today ? thisYear : numberOf(year + 1, month, day);
}

/** The next such holiday that is not over. */
function comingHoliday(on: (year: number) => number, today: number): number {
  const year = dateOf(today).getUTCFullYear();
  return on(year) >= today ? on(year) : on(year + 1);
}

/** Where in a month "mid March" and its like are; from the end of one the next begins. */
const WITHIN: readonly [RegExp, (month: number, today: number) => number][] = [
  [/^(?:end|late|fin)/, (month, today) => coming((month + 1) % 12, 1, today)],
  [/^m/, (month, today) => coming(month, 15, today)],
  [/^/, (month, today) => coming(month, 1, today)],
];

const WAYS: readonly Way[] = [
  {
    says: new RegExp(`${UNTIL} (\\d{4}) (\\d{1,2}) (\\d{1,2})\\b`),
    day: ([, year, month, day]) => numberOf(Number(year), Number(month) - 1, Number(day)),
  },
  { says: new RegExp(`${UNTIL} (?:tomorrow|manana|demain)\\b`), day: (_, today) => today + 1 },
  {
    says: new RegExp(
      `${UNTIL} (?:the |el |la |le )?(mid|middle|end|late|early|beginning|start|fin|finales|mediados|principios)(?: of| de)?(?: the)? (${MONTH})\\b`,
    ),
    day: ([, part, month], today) => WITHIN.find(([is]) => is.test(part!))![1](MONTHS.get(month!)!, today),
  },
  {
    says: new RegExp(
      `${UNTIL} (?:the |el |le |after )?(?:(\\d{1,2}|first)(?:st|nd|rd|th)? (?:of |de )?(${MONTH})|(${MONTH})(?: (\\d{1,2})(?:st|nd|rd|th)?)?)\\b`,
    ),
    day: ([, day, month, other, after], today) =>
      coming(MONTHS.get((month ?? other)!)!, Number(day ?? after ?? 1) || 1, today),
  },
  ...HOLIDAYS.map(([names, on]): Way => ({
    // Until such a day, and through it.
    says: new RegExp(`${UNTIL} (?:after )?(?:the |el |la )?(?:${names})\\b`),
    day: (_, today) => comingHoliday(on, today) + 1,
  })),
  {
    // Further away a month has its day beside it, or "in" before it: "may" is a word of its own.
    says: new RegExp(`${UNTIL} ${GAP}(?:(${MONTH}) (\\d{1,2})(?:st|nd|rd|th)?|in (${MONTH}))\\b`),
    day: ([, month, day, other], today) =>
      coming(MONTHS.get((month ?? other)!)!, Number(day ?? 1) || 1, today),
  },
  {
    says: new RegExp(`${UNTIL} ${GAP}(${WEEKDAY})\\b`),
    // The coming one: never today.
    day: ([, name], today) => today + (((WEEKDAYS.get(name!)! - weekdayOf(today) + 6) % 7) + 1),
  },
  {
    says: new RegExp(`${UNTIL} (?:the |el |le )(\\d{1,2})(?:st|nd|rd|th)?\\b(?! (?:of|de) )`),
    day: ([, day], today) => {
      const date = dateOf(today);
      const [year, month] = [date.getUTCFullYear(), date.getUTCMonth()];
      const soon = numberOf(year, month, Number(day));
      return soon > today ? soon : numberOf(year, month + 1, Number(day));
    },
  },
  {
    says: new RegExp(`\\b(?:not|nothing|none|no texts|no messages) (?:please )?(?:in|during) (${MONTH})\\b`),
    day: ([, month], today) => {
      const next = (MONTHS.get(month!)! + 1) % 12;
      return coming(next, 1, today);
    },
  },
  {
    says: new RegExp(
      `(?:for|por|durante|pendant|pour|pausa de|pause d|pause de|break of) (?:the next |another |about )?(?:(?:a|the) )?(?:(half) (?:a |an )?|(${COUNT})(?: of)?(?: more)? )(${UNIT})\\b( and a half)?`,
    ),
    day: ([, half, count, unit, more], today) =>
      today + Math.round((half ? 0.5 : countOf(count!) + (more ? 0.5 : 0)) * daysOf(unit!)),
  },
  {
    says: new RegExp(
      `\\b(?:this|${UNTIL} next|the rest of the|este|esta|ce|cette) (week|month|year|mes|semana|ano|mois|semaine)\\b`,
    ),
    day: ([, unit], today) => nextBegins(daysOf(unit!), today),
  },
  {
    // 12/20: the month first, unless there is no such month.
    says: new RegExp(`${UNTIL} (\\d{1,2}) (\\d{1,2})\\b`),
    day([, first, second], today) {
      const numbers = [Number(first), Number(second)] as const;
      const [month, day] = numbers[0] > 12 ? [numbers[1], numbers[0]] : numbers;
      return month >= 1 && month <= 12 ? coming(month - 1, day, today) : null;
    },
  },
  {
    says: new RegExp(
      `${UNTIL} (?:the |la |l |el |au |le )?(?:next )?(${Object.keys(SEASON_BEGIN).join('|')})\\b`,
    ),
    day: ([, season], today) => coming(SEASON_BEGIN[season!]!, 1, today),
  },
  {
    says: new RegExp(`(?:${UNTIL}|in|after) (?:the |after )*(?:new years?|next year|ano nuevo|nouvel an)\\b`),
    day: (_, today) => coming(0, 1, today),
  },
  {
    says: new RegExp(
      `\\b(?:(?:for|over|during|after|past|por|durante|pendant|despues de|apres) (?:the |this |el |este |la |l|las |les |cet )?)(${Object.keys(SEASON_END).join('|')})\\b`,
    ),
    day: ([, season], today) =>
      coming(
        SEASON_END[season!]!,
        season === 'holidays' || season === 'fiestas' || season === 'fetes' ? 7 : 1,
        today,
      ),
  },
];

/** When the week, month or year after this one begins. */
function nextBegins(days: number, today: number): number {
  const date = dateOf(today);
  if (days === 7) return today + 7 - weekdayOf(today);
  return days === 30
    ? numberOf(date.getUTCFullYear(), date.getUTCMonth() + 1, 1)
    : numberOf(date.getUTCFullYear() + 1, 0, 1);
}
