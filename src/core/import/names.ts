import { plain } from '../reply/normalise';

export interface Named {
  first: string | null;
  last: string | null;
}

/**
 * Whether two names are of two people as far as names tell: nothing in one is like anything in the other. A name that
 * is missing, an initial, a slip of one letter, a shortened form are no other name.
 */
export function isAnotherName(one: Named, other: Named): boolean {
  // A first name beside a last name says nothing: they may be of one person.
  const comparable = (one.first && other.first) || (one.last && other.last);
  if (!comparable) return false;
  const [mine, theirs] = [wordsOf(one), wordsOf(other)];
  return !mine.some((word) => theirs.some((their) => alike(word, their)));
}

const wordsOf = ({ first, last }: Named): string[] =>
  plain(`${first ?? ''} ${last ?? ''}`)
    .split(' ')
    .filter(Boolean);

/** `Ana` and `Anna`, `A` and `Ana`, `Alex` and `Alexandra`. */
function alike(a: string, b: string): boolean {
  const [short, long] = a.length <= b.length ? [a, b] : [b, a];
  if (long.startsWith(short)) return true;
  return short.length >= 3 && long.length - short.length <= 1 && oneSlip(short, long);
}

/** One letter more, or one other. */
function oneSlip(short: string, long: string): boolean {
  let at = 0;
  while (at < short.length && short[at] === long[at]) at++;
  return short.length === long.length
    ? short.slice(at + 1) === long.slice(at + 1)
    : short.slice(at) === long.slice(at + 1);
}
