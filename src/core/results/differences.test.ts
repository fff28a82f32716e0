import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { chanceOfCounts, chanceOfShares, realOnes } from './differences';

describe('the chance of a difference', () => {
  // The lady who tasted tea: 3 of 4 against 1 of 4, one side 0.242857 (Fisher 1935).
  it('of two small shares is Fisher’s', () => {
    expect(chanceOfShares({ count: 3, of: 4 }, { count: 1, of: 4 })).toBeCloseTo(0.485714, 5);
    expect(chanceOfShares({ count: 4, of: 4 }, { count: 0, of: 4 })).toBeCloseTo(2 / 70, 6);
  });

  it('of two large shares is that of two proportions', () => {
    // z = 1.9600: at the edge of five in a hundred.
    const [a, b] = [
      { count: 1_062, of: 10_000 },
      { count: 978, of: 10_000 },
    ];
    const share = 2_040 / 20_000;
    const z = (1_062 - 978) / 10_000 / Math.sqrt(share * (1 - share) * (2 / 10_000));
    expect(z).toBeCloseTo(1.9626, 3);
    expect(chanceOfShares(a, b)).toBeCloseTo(0.04969, 4);
  });

  it('says nothing where there is nothing, and that it is chance where nothing happened', () => {
    expect(chanceOfShares({ count: 0, of: 0 }, { count: 1, of: 2 })).toBeNull();
    expect(chanceOfShares({ count: 0, of: 40 }, { count: 0, of: 2 })).toBe(1);
    expect(chanceOfCounts(0, 7, 0, 7)).toBeNull();
  });

  it.each([
    // 10 against 0 in as long a time: both sides, 2 / 2^10.
    [10, 7, 0, 7, 2 / 1024],
    [5, 7, 5, 7, 1],
    // Twice as many in twice the time is no difference.
    [20, 14, 10, 7, 1],
    // 9 or 10 of 10 at a half: 11/1024 on each side.
    [9, 7, 1, 7, 22 / 1024],
  ])('of %d in %d days against %d in %d is %d', (count, length, before, lengthBefore, chance) =>
    expect(chanceOfCounts(count, length, before, lengthBefore)).toBeCloseTo(chance, 6),
  );

  it('is the same both ways round, and lies between nought and one', () => {
    const part = fc
      .tuple(fc.integer({ min: 1, max: 3_000 }), fc.double({ min: 0, max: 1, noNaN: true }))
      .map(([of, share]) => ({ of, count: Math.round(of * share) }));
    fc.assert(
      fc.property(part, part, (a, b) => {
        const chance = chanceOfShares(a, b)!;
        expect(chance).toBeGreaterThanOrEqual(0);
        expect(chance).toBeLessThanOrEqual(1);
        expect(chanceOfShares(b, a)).toBeCloseTo(chance, 6);
      }),
    );
  });
});

describe('several differences', () => {
  it('are real as the published example says', () => {
    // Benjamini and Hochberg (1995), section 3.2: of fifteen, four are real at 0.05; without counting them it were nine.
    const published = [
      ...[0.0001, 0.0004, 0.0019, 0.0095, 0.0201, 0.0278, 0.0298, 0.0344],
      ...[0.0459, 0.324, 0.4262, 0.5719, 0.6528, 0.759, 1],
    ];
    expect(realOnes(published).filter(Boolean)).toHaveLength(4);
    expect(realOnes([...published].reverse()).slice(-4)).toEqual([true, true, true, true]);
  });

  it('are never real where nothing was compared', () => {
    expect(realOnes([])).toEqual([]);
    expect(realOnes([null, 0.001, null])).toEqual([false, true, false]);
  });
});
