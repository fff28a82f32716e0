import { plain } from '../reply/normalise';
import type { Millis } from '../shared/instant';

/** A text that was nearly a keyword. */
export interface NearMiss {
  personId: string;
  body: string;
  keyword: string;
  at: Millis;
  /** Nobody has settled it, and they wrote nothing since. */
  open: boolean;
}

/** One wrong spelling, with everybody who used it. */
export interface Misspelling {
  spelling: string;
  keyword: string;
  texts: number;
  people: number;
  last: Millis;
  /** Who still waits, by when they wrote. */
  open: { personId: string; at: Millis }[];
}

/** Gathers near misses by how they are spelled, those of most people first. */
export function gather(misses: readonly NearMiss[]): Misspelling[] {
  const gathered = new Map<string, Misspelling & { who: Set<string> }>();
  for (const { personId, body, keyword, at, open } of misses) {
    const spelling = plain(body);
    const key = `${spelling}\n${keyword}`;
    const one = gathered.get(key) ?? {
      ...{ spelling, keyword, texts: 0, people: 0, last: at, open: [], who: new Set<string>() },
    };
    gathered.set(key, one);
    one.who.add(personId);
    Object.assign(one, { texts: one.texts + 1, people: one.who.size, last: Math.max(one.last, at) });
    if (open) one.open.push({ personId, at });
  }
  return [...gathered.values()]
    .map(({ who: _, ...one }) => one)
    .sort((one, other) => other.people - one.people || other.last - one.last);
}
