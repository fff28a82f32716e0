import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ExampleFinder, type ExampleCopy } from './examples';

const copy = (personId: string, more: Partial<ExampleCopy> = {}): ExampleCopy => ({
  ...{ personId, name: personId.toUpperCase(), text: 'Hi', credits: 1, blanks: 0, ...more },
});
const examples = (copies: ExampleCopy[], after: string | null = null, seed = 's') => {
  const finder = new ExampleFinder(after, seed);
  for (const one of copies) finder.add(one);
  return finder.build();
};

describe('examples', () => {
  it('are none where nobody gets it', () =>
    expect(Object.values(examples([])).every((one) => one === null)).toBe(true));

  it('are the longest, the dearest, and the one with most fields empty', () => {
    const found = examples([
      copy('a'),
      copy('b', { text: 'Hi Bartholomew' }),
      copy('c', { credits: 3 }),
      copy('d', { blanks: 2 }),
      copy('e', { blanks: 1, credits: 2 }),
    ]);
    expect(found).toMatchObject({
      first: { personId: 'a', name: 'A' },
      longest: { personId: 'b' },
      dearest: { personId: 'c' },
      emptiest: { personId: 'd' },
    });
  });

  it('name nobody as the dearest or the emptiest where all are alike', () =>
    expect(examples([copy('a'), copy('b')])).toMatchObject({ dearest: null, emptiest: null }));

  it('go on to the next, and from the last to the first', () => {
    const copies = ['a', 'b', 'c'].map((id) => copy(id));
    expect(examples(copies, 'a').next?.personId).toBe('b');
    expect(examples(copies, 'c').next?.personId).toBe('a');
    expect(examples(copies).next?.personId).toBe('a');
  });

  it('at random reach everybody as the seed changes', () => {
    const copies = ['a', 'b', 'c', 'd'].map((id) => copy(id));
    const drawn = Array.from({ length: 200 }, (_, i) => examples(copies, null, `${i}`).any!.personId);
    for (const { personId } of copies) {
      const times = drawn.filter((id) => id === personId).length;
      expect(times).toBeGreaterThan(20);
    }
  });

  it('are always of those that came by', () =>
    fc.assert(
      fc.property(fc.array(fc.string()), fc.string(), (ids, seed) => {
        const found = examples(
          ids.sort().map((id) => copy(id)),
          ids[0] ?? null,
          seed,
        );
        for (const one of Object.values(found)) if (one) expect(ids).toContain(one.personId);
      }),
    ));
});
