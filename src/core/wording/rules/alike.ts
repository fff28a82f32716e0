import { DAY } from '../../shared/instant';
import type { SentText, WordingContext } from '../context';
import type { Found } from '../finding';
import { FIELD, readSource, type Reading } from '../reading';
import { saysHowToStop } from './sender';

/** Words without what stands in every text: how to stop, and what marks them. */
const wordsOf = (text: string, business: string): string[] =>
  text
    .toLowerCase()
    .replaceAll(business.toLowerCase(), ' ')
    .replaceAll(FIELD, ' ')
    .replaceAll('&', ' and ')
    .split(/(?<=[.!?])\s+|\n/)
    .filter((sentence) => !saysHowToStop(sentence))
    .join(' ')
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/** Pairs of neighbouring words: what two texts share of them is how alike they read. */
function pairsOf(words: readonly string[]): Set<string> {
  return new Set(words.length < 2 ? words : words.slice(1).map((word, i) => `${words[i]} ${word}`));
}

/** Jaccard's index of the pairs, from 0 (nothing shared) to 1. */
export function likeness(one: readonly string[], other: readonly string[]): number {
  const [ones, others] = [pairsOf(one), pairsOf(other)];
  const shared = [...ones].filter((pair) => others.has(pair)).length;
  return shared === 0 ? 0 : shared / (ones.size + others.size - shared);
}

/** Of sixteen words three may be others. */
const ALIKE = 0.45;

function nearest(reading: Reading, { sent, business }: WordingContext) {
  const words = wordsOf(reading.text, business.name);
  if (words.length === 0) return null;
  const compared = sent.map((text) => {
    const other = wordsOf(readSource(text.source).text, business.name);
    return { text, same: other.join(' ') === words.join(' '), like: likeness(words, other) };
  });
  return compared.sort((a, b) => Number(b.same) - Number(a.same) || b.like - a.like)[0] ?? null;
}

const ago = ({ at }: SentText, now: number): string => {
  const days = Math.round((now - at) / DAY);
  return days === 0 ? 'today' : days === 1 ? 'a day before' : `${days} days before`;
};

const whole = (message: string): Found[] => [{ message, place: null, mending: null }];

export function sameText(reading: Reading, context: WordingContext): Found[] {
  const found = nearest(reading, context);
  return found?.same
    ? whole(
        `“${found.text.name}” said the same ${ago(found.text, context.at)}. Nobody believes in a person behind a text that comes twice.`,
      )
    : [];
}

export function alike(reading: Reading, context: WordingContext): Found[] {
  const found = nearest(reading, context);
  return found && !found.same && found.like >= ALIKE
    ? whole(`It reads nearly like “${found.text.name}”, ${ago(found.text, context.at)}. Say it differently.`)
    : [];
}
