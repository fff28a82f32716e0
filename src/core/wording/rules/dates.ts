import { addDays, dayOf, isDay, type Day } from '../../audience/days';
import type { WordingContext } from '../context';
import type { Found } from '../finding';
import { findAll, placeOf, type Reading } from '../reading';

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const WEEKDAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];

const MONTH =
  '(?<month>jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?|nov(?:ember)?|dec(?:ember)?)\\.?';
const WEEKDAY =
  '(?:(?<weekday>sun|mon|tues?|wed(?:nes)?|thu(?:rs?)?|fri|sat(?:ur)?)(?:day)?s?\\b\\.?,?\\s*(?:the\\s+)?)?';
const DAY_NUMBER = '(?<day>\\d{1,2})(?:st|nd|rd|th)?';
const YEAR = '(?:,?\\s+(?<year>20\\d\\d)\\b)?';

/** "Fri, Dec 4", "Friday the 4th of December", "Fri 12/4", "2026-12-04". */
const DATES: readonly RegExp[] = [
  new RegExp(`\\b${WEEKDAY}${MONTH}\\s+${DAY_NUMBER}(?!\\d|[:/]\\d|\\s?[ap]\\.?m\\b)${YEAR}`, 'giu'),
  new RegExp(`\\b${WEEKDAY}${DAY_NUMBER}(?:\\s+of)?\\s+${MONTH}(?![\\p{L}])${YEAR}`, 'giu'),
  new RegExp(
    `(?<![\\d/$])\\b${WEEKDAY}(?<numeric>\\d{1,2})/(?<day>\\d{1,2})(?:/(?<year>(?:20)?\\d\\d))?\\b(?![/\\d%])`,
    'giu',
  ),
  new RegExp(`\\b${WEEKDAY}(?<iso>20\\d\\d-\\d\\d-\\d\\d)\\b`, 'giu'),
];

/** Of each form; nobody reads more in one text. */
const MOST_DATES = 20;

interface Written {
  match: RegExpExecArray;
  day: Day;
  /** The year stands there; else the nearest one is meant. */
  dated: boolean;
  /** 0 Sunday; null: none is named. */
  weekday: number | null;
  /** Only numbers with a stroke: might be a fraction or a score. */
  bare: boolean;
}

export function datesIn(reading: Reading, { at, zone, country }: WordingContext): Written[] {
  const today = dayOf(at, zone);
  return DATES.flatMap((pattern) => findAll(reading, pattern).slice(0, MOST_DATES)).flatMap((match) => {
    const groups = match.groups!;
    const named = groups.weekday?.slice(0, 3).toLowerCase();
    const weekday = named ? WEEKDAYS.findIndex((name) => name.toLowerCase().startsWith(named)) : null;
    const day = groups.iso && isDay(groups.iso) ? groups.iso : dayFrom(groups, today, country);
    if (day === null) return [];
    const bare = groups.numeric !== undefined && weekday === null;
    return [{ match, day, dated: groups.iso !== undefined || groups.year !== undefined, weekday, bare }];
  });
}

function dayFrom(groups: Record<string, string | undefined>, today: Day, country: string): Day | null {
  const dayFirst = groups.numeric !== undefined && country !== 'US';
  const number = groups.numeric === undefined ? null : Number(dayFirst ? groups.day : groups.numeric);
  const month = number ?? MONTHS.indexOf(groups.month?.slice(0, 3).toLowerCase() ?? '') + 1;
  const day = Number(dayFirst ? groups.numeric : groups.day);
  const year = groups.year === undefined ? null : 2000 + (Number(groups.year) % 100);
  const dayIn = (inYear: number) =>
    `${inYear}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
  if (year !== null) return isDay(dayIn(year)) ? dayIn(year) : null;
  const thisYear = Number(today.slice(0, 4));
  // Without a year: what is long past is meant for the next.
  const candidates = [thisYear, thisYear + 1, thisYear - 1].map(dayIn).filter(isDay);
  const [from, to] = [addDays(today, -LONG_PAST), addDays(today, 366 - LONG_PAST)];
  return candidates.find((one) => one >= from && one < to) ?? null;
}

/** "Jan 5" in November is the next one; "Oct 1" has passed. */
const LONG_PAST = 120;

export const weekdayOf = (day: Day): number => new Date(`${day}T00:00:00Z`).getUTCDay();

export const wrongWeekday = (reading: Reading, context: WordingContext): Found[] =>
  datesIn(reading, context).flatMap(({ match, day, weekday }) => {
    const real = weekdayOf(day);
    if (weekday === null || weekday === real) return [];
    const said = match[0].match(/^\p{L}+/u)![0];
    const right = said.length <= 5 ? WEEKDAYS[real]!.slice(0, 3) : WEEKDAYS[real]!;
    return [
      {
        message: `${match[0].trim()} is a ${WEEKDAYS[real]}, not a ${WEEKDAYS[weekday]}.`,
        place: placeOf(reading, match),
        mending: {
          label: `Say ${right}`,
          changes: [{ ...reading.place(match.index, match.index + said.length), insert: right }],
        },
      },
    ];
  });

/** Words that speak of what was. */
const LOOKS_BACK =
  /\b(?:thanks?|thank you|since|was|were|recap|photos?|pictures?|results?|recording|replay|yesterday|ago|back on|of \d|your visit|instead|new date|last|est\.?|came|went|had|did|won|sold|gave|got|found|took|saw|made|met|ran|sent|told|held|kept|left|lost|paid|bought|brought|taught|built|said|began|drew|(?!(?:need|feed|speed|shred|sled|bleed|breed|indeed|closed|limited|reserved|invited|based|supposed|required|advanced|excited|wanted|hundred)\b)\p{L}{2,}ed)\b/iu;
/** "From Nov 20 on" goes on. */
const SINCE = /\b(?:from|since|after)\s*$/iu;
const RANGE_GOES_ON = /^\s*(?:-|–|—|to|thru|through|until|till|and|&)\s*/iu;
/** What makes bare numbers a date. */
const DATE_AHEAD =
  /\b(?:on|by|until|till|til|through|thru|ends?|expires?|valid|due|before|of|date:?|when:?|starting|starts?|this|rsvp|deadline:?|deadline is)\s*$/iu;

export function datePassed(reading: Reading, context: WordingContext): Found[] {
  const today = dayOf(context.at, context.zone);
  const written = datesIn(reading, context);
  return written
    .filter(({ match, day, bare }) => {
      if (day >= today || (bare && !DATE_AHEAD.test(reading.text.slice(0, match.index)))) return false;
      if (SINCE.test(reading.text.slice(0, match.index))) return false;
      const end = match.index + match[0].length;
      const goesOn = RANGE_GOES_ON.exec(reading.text.slice(end));
      // "Nov 19's class" is told of.
      if (/^[’']s\b/.test(reading.text.slice(end))) return false;
      // "Nov 20 - Dec 5" is over with its end.
      if (
        goesOn &&
        written.some((other) => other.day >= today && other.match.index === end + goesOn[0].length)
      )
        return false;
      return !LOOKS_BACK.test(sentenceAround(reading.text, match.index, end));
    })
    .map(({ match }) => ({
      message: `${match[0].trim()} has passed when this leaves.`,
      place: placeOf(reading, match),
      mending: null,
    }));
}

/** The sentence a stretch stands in. A full stop behind a short word ("Nov.") ends none. */
function sentenceAround(text: string, from: number, to: number): string {
  const before = text
    .slice(0, from)
    .split(/(?<=\p{L}{4,}[.!?]+)\s|(?<=[!?])\s|\n/u)
    .at(-1)!;
  return before + text.slice(from, to) + text.slice(to).split(/[.!?](?:\s|$)|\n/u)[0]!;
}
