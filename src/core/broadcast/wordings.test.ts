import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isFirst, judge, letterOf, wordingOf, type Tally } from './wordings';

/** Chance that comes out the same each time. */
function chances(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

/** Answers come in one by one, and somebody looks after each hundredth person. */
function follow(seed: number, shares: readonly number[], people: number): number | null {
  const chance = chances(seed);
  const tallies: Tally[] = shares.map(() => ({ people: 0, acts: 0 }));
  for (let i = 1; i <= people; i++) {
    const wording = Math.floor(chance() * shares.length);
    const tally = tallies[wording]!;
    tally.people += 1;
    if (chance() < shares[wording]!) tally.acts += 1;
    if (i % 100 === 0) {
      const { better } = judge(tallies, 'replies');
      if (better !== null) return better;
    }
  }
  return null;
}

describe('which wording somebody gets', () => {
  it('is the same whenever it is asked, about as many people each, whoever comes first', () => {
    const people = Array.from({ length: 4_000 }, (_, i) => `per_${i}`);
    const counts = [0, 0, 0];
    for (const person of people) counts[wordingOf('brc_1', person, 3)]! += 1;
    for (const count of counts) expect(Math.abs(count - 4_000 / 3)).toBeLessThan(120);
    const first = people.filter((person) => isFirst('brc_1', person, 20));
    expect(Math.abs(first.length - 800)).toBeLessThan(100);
    const ofFirst = first.filter((person) => wordingOf('brc_1', person, 2) === 0).length;
    expect(Math.abs(ofFirst / first.length - 0.5)).toBeLessThan(0.06);
    expect(wordingOf('brc_1', 'per_7', 2)).toBe(wordingOf('brc_1', 'per_7', 2));
  });
  it('is the first where there is one, and everybody is first where nobody waits', () => {
    expect(wordingOf('brc_1', 'per_1', 1)).toBe(0);
    expect(isFirst('brc_1', 'per_1', null)).toBe(true);
    expect([0, 1, 2, 3].map(letterOf).join('')).toBe('ABCD');
  });
});

describe('whether one is better', () => {
  it.each<[string, Tally[], number | null]>([
    [
      '3 of 40 against 5 of 41 is no difference',
      [
        { people: 40, acts: 3 },
        { people: 41, acts: 5 },
      ],
      null,
    ],
    [
      'twice the replies of a thousand each is',
      [
        { people: 1_000, acts: 40 },
        { people: 1_000, acts: 90 },
      ],
      1,
    ],
    [
      'the better of three must beat both',
      [
        { people: 500, acts: 60 },
        { people: 500, acts: 10 },
        { people: 500, acts: 55 },
      ],
      null,
    ],
    [
      'and does',
      [
        { people: 500, acts: 90 },
        { people: 500, acts: 10 },
        { people: 500, acts: 15 },
      ],
      0,
    ],
    [
      'nothing was done yet',
      [
        { people: 500, acts: 0 },
        { people: 500, acts: 0 },
      ],
      null,
    ],
    [
      'nobody was reached yet',
      [
        { people: 0, acts: 0 },
        { people: 0, acts: 0 },
      ],
      null,
    ],
    [
      'one reached nobody',
      [
        { people: 0, acts: 0 },
        { people: 900, acts: 90 },
      ],
      null,
    ],
  ])('%s', (_, tallies, better) => expect(judge(tallies, 'replies').better).toBe(better));

  it('of opt-outs the fewer are better', () => {
    const tallies = [
      { people: 2_000, acts: 12 },
      { people: 2_000, acts: 60 },
    ];
    expect(judge(tallies, 'opt-outs')).toMatchObject({ better: 0, ahead: 0 });
    expect(judge(tallies, 'replies')).toMatchObject({ better: 1, ahead: 1 });
  });

  it('takes chance for a difference in at most 5 of 100 comparisons, though somebody looks again and again', () => {
    const found = Array.from({ length: 600 }, (_, i) => follow(i + 1, [0.05, 0.05], 6_000)).filter(
      (one) => one !== null,
    );
    expect(found.length / 600).toBeLessThan(0.05);
  });
  it('also of four', () => {
    const shares = [0.05, 0.05, 0.05, 0.05];
    const found = Array.from({ length: 300 }, (_, i) => follow(i + 1, shares, 6_000)).filter(
      (one) => one !== null,
    );
    expect(found.length / 300).toBeLessThan(0.05);
  });
  it('finds a real one', () => {
    const found = Array.from({ length: 100 }, (_, i) => follow(i + 1, [0.04, 0.08], 6_000));
    expect(found.filter((one) => one === 1).length).toBeGreaterThan(95);
    expect(found.filter((one) => one === 0).length).toBe(0);
  });
  it('does not depend on the order of the wordings', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            people: fc.integer({ min: 1, max: 3_000 }),
            share: fc.double({ min: 0, max: 0.3, noNaN: true }),
          }),
          { minLength: 2, maxLength: 4 },
        ),
        (made) => {
          const tallies = made.map(({ people, share }) => ({ people, acts: Math.floor(people * share) }));
          const { better } = judge(tallies, 'replies');
          const turned = judge([...tallies].reverse(), 'replies').better;
          expect(turned === null ? null : tallies.length - 1 - turned).toBe(better);
        },
      ),
    ));
});
