import distance from 'talisman/metrics/damerau-levenshtein.js';

/** A name without case, marks and order: the words that make it. */
export const nameWords = (first: string | null, last: string | null): string[] =>
  [first, last]
    .join(' ')
    .toLowerCase()
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[’'`.-]/g, '')
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .sort();

export interface Named {
  first: string | null;
  last: string | null;
}

/**
 * Whether two names may be one person's: the same words in any order and dress, a slip or two in a long one, or one
 * with an initial for a word. A name of one word is too little to go by.
 */
export const likeNames = (one: Named, other: Named): boolean =>
  likeWords(nameWords(one.first, one.last), nameWords(other.first, other.last));

function likeWords(a: readonly string[], b: readonly string[]): boolean {
  if (a.length < 2 || b.length < 2 || a.length !== b.length) return false;
  const left = a.filter((word) => !b.includes(word));
  const right = b.filter((word) => !a.includes(word));
  if (left.length === 0 && right.length === 0) return true;
  if (left.length !== 1 || right.length !== 1) return false;
  const [x, y] = [left[0]!, right[0]!];
  if (x.length === 1 || y.length === 1) return x[0] === y[0];
  const length = Math.min(x.length, y.length);
  return length >= 4 && distance(x, y) <= (length >= 9 ? 2 : 1);
}

/** A word that so many people of one place share tells none of them apart. */
const COMMON = 500;

/**
 * The pairs with like names among people of one place, each with the lower id first. Like names differ in one word at
 * most, so they share another: only people who share a word are compared, not everybody with everybody.
 */
export function likePairs(people: readonly (Named & { id: string })[]): [string, string][] {
  const named = people.map(({ id, first, last }) => ({ id, words: nameWords(first, last) }));
  const byWord = new Map<string, typeof named>();
  for (const one of named)
    for (const word of new Set(one.words.length < 2 ? [] : one.words)) {
      const sharing = byWord.get(word);
      if (sharing) sharing.push(one);
      else byWord.set(word, [one]);
    }
  const pairs = new Map<string, [string, string]>();
  for (const sharing of byWord.values()) {
    if (sharing.length > COMMON) continue;
    for (const [i, one] of sharing.entries())
      for (const other of sharing.slice(i + 1)) {
        if (!likeWords(one.words, other.words)) continue;
        const [a, b] = one.id < other.id ? [one.id, other.id] : [other.id, one.id];
        pairs.set(`${a} ${b}`, [a, b]);
      }
  }
  return [...pairs.values()];
}
