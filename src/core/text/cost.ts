import { measure, type Alphabet } from './measure';

/** What one copy of a text costs. `creditsPerPart` is a setting of the workspace. */
export const creditsFor = (parts: number, creditsPerPart: number): number => parts * creditsPerPart;

/** People whose copies take the same alphabet and parts. */
export interface CostGroup {
  alphabet: Alphabet;
  parts: number;
  people: number;
  credits: number;
  /** For UCS-2: the characters that cause it, most frequent first, at most five. */
  because: string[];
}

export interface CostSpread {
  people: number;
  parts: number;
  credits: number;
  /** Largest group first. */
  groups: CostGroup[];
}

/** The cost of a text over its people, copy by copy: never a guess from the template. */
export function spreadCost(copies: Iterable<string>, creditsPerPart: number): CostSpread {
  const groups = new Map<string, CostGroup & { seen: Map<string, number> }>();
  const total = { people: 0, parts: 0, credits: 0 };
  for (const copy of copies) {
    const { alphabet, parts, outside } = measure(copy);
    const credits = creditsFor(parts, creditsPerPart);
    const key = `${alphabet} ${parts}`;
    const group = groups.get(key) ?? { alphabet, parts, people: 0, credits: 0, because: [], seen: new Map() };
    groups.set(key, group);
    group.people += 1;
    group.credits += credits;
    for (const char of outside) group.seen.set(char, (group.seen.get(char) ?? 0) + 1);
    total.people += 1;
    total.parts += parts;
    total.credits += credits;
  }
  const list = [...groups.values()].map(({ seen, ...group }) => ({
    ...group,
    because: mostFrequent(seen, 5),
  }));
  return { ...total, groups: list.sort((a, b) => b.people - a.people) };
}

const mostFrequent = (seen: Map<string, number>, most: number): string[] =>
  [...seen.entries()]
    .sort((a, b) => b[1] - a[1])
    .slice(0, most)
    .map(([char]) => char);
