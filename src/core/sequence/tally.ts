import type { Difference } from './ahead';

/** What a document would do to those who are on the way, counted in people, with some of them behind each count. */
export interface Tally {
  people: number;
  /** So many were worked out; where that is fewer than all, the counts are what all come to if the others are alike. */
  counted: number;
  /** Nothing changes for them. */
  same: number;
  more: Counted;
  fewer: Counted;
  losesNext: Counted;
  ends: Counted;
  shifts: Counted;
}

interface Counted {
  people: number;
  examples: string[];
}

const KINDS = ['more', 'fewer', 'losesNext', 'ends', 'shifts'] as const;
const EXAMPLES = 50;

export function emptyTally(): Tally {
  const none = (): Counted => ({ people: 0, examples: [] });
  return {
    ...{ people: 0, counted: 0, same: 0 },
    ...{ more: none(), fewer: none(), losesNext: none(), ends: none(), shifts: none() },
  };
}

export function countIn(tally: Tally, personId: string, difference: Difference): void {
  tally.counted += 1;
  const kinds = KINDS.filter((kind) => Number(difference[kind]) > 0);
  if (kinds.length === 0) tally.same += 1;
  for (const kind of kinds) {
    tally[kind].people += 1;
    if (tally[kind].examples.length < EXAMPLES) tally[kind].examples.push(personId);
  }
}

/** What `people` come to, if those who were not worked out are like those who were. */
export function scaledTo(tally: Tally, people: number): Tally {
  const { counted } = tally;
  if (counted === 0 || counted === people) return { ...tally, people };
  const all = (n: number): number => Math.round((n / counted) * people);
  const kinds = KINDS.map((kind) => [kind, { ...tally[kind], people: all(tally[kind].people) }] as const);
  return { ...tally, ...Object.fromEntries(kinds), people, same: all(tally.same) };
}
