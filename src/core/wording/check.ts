import type { WordingContext } from './context';
import {
  FINDING_CODES,
  weightOf,
  type Finding,
  type FindingCode,
  type Found,
  type OwnWeights,
  type Severity,
} from './finding';
import { readSource, type Reading } from './reading';
import { alike, sameText } from './rules/alike';
import { datePassed, wrongWeekday } from './rules/dates';
import { hardToRead, tooLong } from './rules/ease';
import { foreignNumber, twoCurrencies } from './rules/facts';
import { fallbackReadsBadly, fieldWithoutFallback, leftOpen } from './rules/fields';
import { itemLacks, itemOver } from './rules/items';
import { brokenLink, foreignLink, publicShortener } from './rules/links';
import { disguisedWord, shouting, tooManyEmoji } from './rules/loud';
import { promiseBroken } from './rules/promise';
import { notRegistered } from './rules/registered';
import { forbiddenContent, riskyWord } from './rules/risky';
import { noSender, optOutDue, optOutMissing } from './rules/sender';

type Rule = (reading: Reading, context: WordingContext) => Found[];

const RULES: Record<FindingCode, Rule> = {
  'no-sender': noSender,
  'opt-out-due': optOutDue,
  'opt-out-missing': optOutMissing,
  'promise-broken': promiseBroken,
  shouting,
  'disguised-word': disguisedWord,
  'risky-word': riskyWord,
  'forbidden-content': forbiddenContent,
  'not-registered': notRegistered,
  'public-shortener': publicShortener,
  'foreign-link': foreignLink,
  'broken-link': brokenLink,
  'left-open': leftOpen,
  'item-over': itemOver,
  'item-lacks': itemLacks,
  'field-without-fallback': fieldWithoutFallback,
  'fallback-reads-badly': fallbackReadsBadly,
  'wrong-weekday': wrongWeekday,
  'date-passed': datePassed,
  'two-currencies': twoCurrencies,
  'foreign-number': foreignNumber,
  'same-text': sameText,
  alike,
  'too-long': tooLong,
  'too-many-emoji': tooManyEmoji,
  'hard-to-read': hardToRead,
};

const ORDER: Record<Severity, number> = { must: 0, should: 1, hint: 2 };

/**
 * What there is to say about a stored text (Unicode MessageFormat 2) before it goes: the heaviest first, then by place.
 * Nothing is said of an empty text.
 */
export function checkWording(source: string, context: WordingContext, own: OwnWeights = {}): Finding[] {
  if (source.trim() === '') return [];
  const reading = readSource(source);
  return FINDING_CODES.flatMap((code): Finding[] => {
    const severity = weightOf(code, own);
    return severity === 'off'
      ? []
      : RULES[code](reading, context).map((found) => ({ code, severity, ...found }));
  }).sort(
    (a, b) =>
      ORDER[a.severity] - ORDER[b.severity] || (a.place?.from ?? Infinity) - (b.place?.from ?? Infinity) || 0,
  );
}

/** A stored text with a mending made. */
export const mended = (source: string, { changes }: NonNullable<Finding['mending']>): string =>
  [...changes]
    .sort((a, b) => b.from - a.from)
    .reduce((text, { from, to, insert }) => text.slice(0, from) + insert + text.slice(to), source);
