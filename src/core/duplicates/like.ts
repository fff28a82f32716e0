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
export function likeNames(one: Named, other: Named): boolean {
  const a = nameWords(one.first, one.last);
  const b = nameWords(other.first, other.last);
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
