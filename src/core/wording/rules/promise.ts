import type { Frequency } from '../../program/promise';
import type { WordingContext } from '../context';
import type { Found } from '../finding';
import { findAll, placeOf, type Reading } from '../reading';

/** What is announced, as messages in thirty days. */
const PER_MONTH: readonly [RegExp, number][] = [
  [/^(?:twice a day|two times a day)$/, 60],
  [
    /^(?:daily|every (?:single )?day|everyday|each day|(?:every|each) (?:morning|evening|night)|(?:once )?a day)$/,
    30,
  ],
  [/^(?:twice|two times|2 times|2x) (?:a|per|each|every) week$/, 8.6],
  [/^(?:three|3) times (?:a|per|each|every) week$/, 12.9],
  [
    /^(?:weekly|every week|each week|(?:once )?a week|every (?:mon|tues|wednes|thurs|fri|satur|sun)day)$/,
    4.3,
  ],
  [/^(?:monthly|every month|each month|(?:once )?a month)$/, 1],
];

const OFTEN =
  'twice a day|two times a day|daily|every (?:single )?day|everyday|each day|(?:every|each) (?:morning|evening|night)|(?:twice|two times|2 times|2x|three times|3 times) (?:a|per|each|every) week|weekly|every week|each week|once a week|every (?:mon|tues|wednes|thurs|fri|satur|sun)day|monthly|every month|each month|once a month|once a day';
const MESSAGES =
  'texts?|msgs?|messages?|alerts?|updates?|newsletters?|tips?|reminders?|bulletins?|digests?|notes?|(?<=(?:ly|day|week) )news|news(?= (?:every|each|daily|weekly))';
const WE_WRITE =
  "(?:we|i)(?:[’']ll| will| are going to|[’']re going to)?(?: now| also)? (?:text|message|msg|write(?: to)?|ping|send)(?: you)?|(?:you[’']ll |you will |expect to )?hear from us|(?:you[’']ll |you will )?(?:get|receive) (?:\\w+ ){0,2}(?:texts?|msgs?|messages?|alerts?)|in touch|(?:comes?|arrives?|goes out|lands)(?: to you)?(?: now)?";

const ANNOUNCED: readonly RegExp[] = [
  // "weekly texts", "daily sky alerts"
  new RegExp(`\\b(?<often>${OFTEN})\\b (?:[\\w’'-]+ ){0,2}?(?:${MESSAGES})\\b`, 'giu'),
  // "texts every week", "alerts daily"
  new RegExp(`\\b(?:${MESSAGES})\\b (?:\\w+ ){0,2}?(?<often>${OFTEN})\\b`, 'giu'),
  // "we'll text you every Friday"
  new RegExp(`\\b(?:${WE_WRITE})\\b(?: [\\w’'$-]+){0,5}? (?<often>${OFTEN})\\b`, 'giu'),
  // "Every Friday we text you"
  new RegExp(`\\b(?<often>${OFTEN})\\b,? (?:\\w+ ){0,1}?(?:${WE_WRITE})\\b`, 'giu'),
];

/** "Up to 8 msgs/month", "10 texts a week". */
const COUNTED =
  /\b(?:up to |about |approx\.? |max\.? )?(?<count>\d{1,3}|an?|one|two|three|four|five|six|seven|eight|nine|ten|twelve|a dozen) ?(?:texts?|msgs?|messages?|alerts?) ?(?:\/|per|a|each|every) ?(?<period>day|week|wk|month|mo)\b/giu;
const PERIODS: Record<string, number> = { day: 30, week: 4.3, wk: 4.3, month: 1, mo: 1 };

const NUMBERS: Record<string, number> = {
  a: 1,
  an: 1,
  one: 1,
  two: 2,
  three: 3,
  four: 4,
  five: 5,
  six: 6,
  seven: 7,
  eight: 8,
  nine: 9,
  ten: 10,
  twelve: 12,
  'a dozen': 12,
};
const numberOf = (said: string): number => NUMBERS[said] ?? Number(said);

const promisedPerMonth = (promise: NonNullable<Frequency>): number =>
  promise.count * PERIODS[promise.period]!;

export function promiseBroken(reading: Reading, { program, channel }: WordingContext): Found[] {
  if (!program?.promise || channel === 'email') return [];
  const promised = promisedPerMonth(program.promise);
  const { count, period } = program.promise;
  const broken = announced(reading).filter(({ perMonth }) => perMonth > promised * 1.05);
  return broken.slice(0, 1).map(({ match }) => ({
    message: `“${match[0].trim()}” is more than ${program.name} promised: up to ${count} in a ${period}.`,
    place: placeOf(reading, match),
    mending: null,
  }));
}

function announced(reading: Reading): { match: RegExpExecArray; perMonth: number }[] {
  const worded = ANNOUNCED.flatMap((pattern) => findAll(reading, pattern)).map((match) => {
    const often = match.groups!.often!.toLowerCase();
    return { match, perMonth: PER_MONTH.find(([pattern]) => pattern.test(often))?.[1] ?? 0 };
  });
  const counted = findAll(reading, COUNTED).map((match) => ({
    match,
    perMonth: numberOf(match.groups!.count!.toLowerCase()) * PERIODS[match.groups!.period!.toLowerCase()]!,
  }));
  return [...worded, ...counted];
}
