import type { Alphabet, Measure } from './measure';

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
  /** Of these the ones who get a picture message, and what those cost. */
  pictures: { people: number; credits: number };
}

/** Counts the cost of a text over its people, copy by copy: never a guess from the template. */
export class CostBuilder {
  readonly #groups = new Map<string, CostGroup & { seen: Map<string, number> }>();
  readonly #total = { people: 0, parts: 0, credits: 0 };
  readonly #pictures = { people: 0, credits: 0 };

  add({
    alphabet,
    parts,
    outside,
    credits,
  }: Pick<Measure, 'alphabet' | 'parts' | 'outside'> & { credits: number }): void {
    const group = this.#groupOf(alphabet, parts);
    group.people += 1;
    group.credits += credits;
    for (const char of outside) group.seen.set(char, (group.seen.get(char) ?? 0) + 1);
    this.#total.people += 1;
    this.#total.parts += parts;
    this.#total.credits += credits;
  }

  addPicture(credits: number): void {
    for (const sum of [this.#pictures, this.#total]) {
      sum.people += 1;
      sum.credits += credits;
    }
    this.#total.parts += 1;
  }

  #groupOf(alphabet: Alphabet, parts: number) {
    const key = `${alphabet} ${parts}`;
    const known = this.#groups.get(key);
    if (known) return known;
    const group = { alphabet, parts, people: 0, credits: 0, because: [], seen: new Map<string, number>() };
    this.#groups.set(key, group);
    return group;
  }

  build(): CostSpread {
    const groups = [...this.#groups.values()].map(({ seen, ...group }) => ({
      ...group,
      because: mostFrequent(seen, 5),
    }));
    return {
      ...this.#total,
      groups: groups.sort((a, b) => b.people - a.people),
      pictures: { ...this.#pictures },
    };
  }
}

const mostFrequent = (seen: Map<string, number>, most: number): string[] =>
  [...seen.entries()]
    .sort((a, b) => b[1] - a[1])
    .slice(0, most)
    .map(([char]) => char);
