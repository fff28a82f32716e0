import type { ProgramFile, WayIn } from './file';
import { helpText } from '../text/wording';
import { reachesFurther } from '../program/promise';
import { CONTENT } from './file';

/** Something a reviewer was told that is not so any more. */
export interface Broken {
  field:
    | 'name'
    | 'purpose'
    | 'often'
    | 'perMonth'
    | 'content'
    | 'links'
    | 'calls'
    | 'adults'
    | 'confirmation'
    | 'question'
    | 'help'
    | 'stop'
    | 'ways';
  /** A sentence: what they were told, and what would be so. */
  message: string;
}

/** How many more texts in a month than were told are no difference. */
const SLACK = 1.5;

/**
 * What a change would break of what was handed in. Less than was told is no break: fewer texts, fewer kinds of content.
 * @param told as it was handed in @param now as it would be
 */
export function brokenBy(told: ProgramFile, now: ProgramFile): Broken[] {
  const broken: Broken[] = [];
  const say = (field: Broken['field'], message: string) => broken.push({ field, message });
  if (told.name !== now.name) say('name', `The program is registered as “${told.name}”.`);
  if (
    reachesFurther(told.purpose, now.purpose) ||
    (told.purpose === 'recurring' && now.purpose === 'marketing')
  )
    say('purpose', `The reviewer was told its purpose is ${told.purpose}, and it would be ${now.purpose}.`);
  if (oftenOf(now.often) > oftenOf(told.often))
    say('often', `The reviewer was told “${told.often}”, and it would be “${now.often}”.`);
  if (now.perMonth > told.perMonth * SLACK)
    say(
      'perMonth',
      `The reviewer was told ${grouped(told.perMonth)} texts a month, and it would be ${grouped(now.perMonth)}.`,
    );
  const more = now.content.filter((kind) => !told.content.includes(kind));
  if (more.length > 0)
    say('content', `The reviewer was not told of ${more.map((kind) => CONTENT[kind]).join(', ')}.`);
  for (const [field, what] of [
    ['links', 'links'],
    ['calls', 'numbers to call'],
  ] as const)
    if (now[field] && !told[field]) say(field, `The reviewer was told that texts hold no ${what}.`);
  if (now.adults && !told.adults) say('adults', 'The reviewer was told that it is for everybody.');
  for (const [field, what] of [
    ['confirmation', 'The confirmation'],
    ['question', 'The question before joining'],
    ['help', 'The answer to HELP'],
    ['stop', 'The answer to STOP'],
  ] as const)
    if (told[field] !== now[field])
      say(
        field,
        now[field] === ''
          ? `${what} was shown to the reviewer, and there would be none.`
          : told[field] === ''
            ? `${what} is new to the reviewer.`
            : `${what} reads differently from what the reviewer read.`,
      );
  const unseen = now.ways.filter((way) => !told.ways.some((one) => sameWay(one, way)));
  if (unseen.length > 0)
    say('ways', `The reviewer has not seen how people join by ${unseen.map(({ name }) => name).join(', ')}.`);
  return broken;
}

/**
 * Whether the automatic texts of a program would read otherwise than the reviewer read them, if the business called itself so and
 * a human answered there.
 */
export const namesOtherwise = (
  told: ProgramFile,
  { business, contact }: { business: string; contact: string },
): boolean =>
  told.business !== business ||
  told.help !== helpText({ business, contact, program: told.name, frequency: told.often });

const sameWay = (one: WayIn, other: WayIn): boolean => one.kind === other.kind && one.words === other.words;

const DAYS = { day: 1, week: 7, month: 30 } as const;

/** Texts a day that “Up to 6 msgs/month” allows; no number allows any. */
function oftenOf(often: string): number {
  const said = /(\d+) msgs?\/(day|week|month)/.exec(often);
  return said ? Number(said[1]) / DAYS[said[2] as keyof typeof DAYS] : Infinity;
}

const grouped = (n: number): string => n.toLocaleString('en-US');
