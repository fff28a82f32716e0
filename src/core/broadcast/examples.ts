import { hashOf } from '../shared/hash';

/** A copy as far as it makes a good example of how a text reads. */
export interface ExampleCopy {
  personId: string;
  name: string;
  text: string;
  credits: number;
  /** Merge fields that are empty for this person. */
  blanks: number;
}

export interface Example {
  personId: string;
  name: string;
}

/** Copies worth looking at, of those that would go. Null: there is none, or it says no more than any other. */
export interface Examples {
  first: Example | null;
  /** The one after the person that is looked at. */
  next: Example | null;
  /** Any; another seed gives another. */
  any: Example | null;
  longest: Example | null;
  /** Null where all cost the same. */
  dearest: Example | null;
  /** Null where nothing is empty for anybody. */
  emptiest: Example | null;
}

const nameOnly = (copy: ExampleCopy | null): Example | null =>
  copy && { personId: copy.personId, name: copy.name };

/** Finds examples while an audience passes by, in the order of its people, keeping a handful. */
export class ExampleFinder {
  private first: ExampleCopy | null = null;
  private next: ExampleCopy | null = null;
  private any: ExampleCopy | null = null;
  private longest: ExampleCopy | null = null;
  private dearest: ExampleCopy | null = null;
  private emptiest: ExampleCopy | null = null;
  private cheapest = Infinity;
  private lowest = Infinity;

  constructor(
    private readonly after: string | null,
    private readonly seed: string,
  ) {}

  add(copy: ExampleCopy): void {
    this.first ??= copy;
    if (this.after !== null && copy.personId > this.after) this.next ??= copy;
    // The lowest of numbers drawn evenly is anybody's alike, however many come.
    const drawn = hashOf(`${this.seed} ${copy.personId}`);
    if (drawn < this.lowest) [this.lowest, this.any] = [drawn, copy];
    if (copy.text.length > (this.longest?.text.length ?? -1)) this.longest = copy;
    if (copy.credits > (this.dearest?.credits ?? -1)) this.dearest = copy;
    if (copy.blanks > (this.emptiest?.blanks ?? 0)) this.emptiest = copy;
    this.cheapest = Math.min(this.cheapest, copy.credits);
  }

  build(): Examples {
    const allAlike = this.dearest === null || this.dearest.credits === this.cheapest;
    return {
      first: nameOnly(this.first),
      next: nameOnly(this.next ?? this.first),
      any: nameOnly(this.any),
      longest: nameOnly(this.longest),
      dearest: allAlike ? null : nameOnly(this.dearest),
      emptiest: nameOnly(this.emptiest),
    };
  }
}
