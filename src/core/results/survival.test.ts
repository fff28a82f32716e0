import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { stillIn, survival, type Stayed } from './survival';

/** Weeks in remission under 6-mercaptopurine (Freireich et al. 1963), as Kleinbaum and Klein print them; + is still in. */
const PUBLISHED = '6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+'.split(' ');

const rows = (list: readonly string[]): Stayed[] =>
  list.map((one) => ({
    days: Number.parseInt(one, 10),
    went: one.endsWith('+') ? 0 : 1,
    still: one.endsWith('+') ? 1 : 0,
  }));

describe('who is still in', () => {
  it('is what the published table says', () => {
    const steps = survival(rows(PUBLISHED)).slice(1);
    expect(steps.map(({ day, atRisk, share }) => [day, atRisk, Number(share.toFixed(4))])).toEqual([
      [6, 21, 0.8571],
      [7, 17, 0.8067],
      [10, 15, 0.7529],
      [13, 12, 0.6902],
      [16, 11, 0.6275],
      [22, 7, 0.5378],
      [23, 6, 0.4482],
    ]);
  });

  it('has the interval that statistical software prints for it', () => {
    const [first, , , , , , last] = survival(rows(PUBLISHED)).slice(1);
    expect([first!.low, first!.high]).toEqual([expect.closeTo(0.6197, 3), expect.closeTo(0.9516, 3)]);
    expect([last!.low, last!.high]).toEqual([expect.closeTo(0.188, 3), expect.closeTo(0.6801, 3)]);
  });

  it('is the plain share where everybody was watched to the end', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 30 }), { minLength: 1, maxLength: 60 }), (days) => {
        const stays = 10;
        const steps = survival([
          ...days.map((one) => ({ days: one, went: 1, still: 0 })),
          { days: 31, went: 0, still: stays },
        ]);
        expect(steps.at(-1)!.share).toBeCloseTo(stays / (stays + days.length), 9);
      }),
    );
  });

  it('never rises, and is not moved by who joined yesterday', () => {
    const before = survival(rows(PUBLISHED));
    const after = survival([...rows(PUBLISHED), { days: 1, went: 0, still: 500 }]);
    expect(after.slice(1).map(({ share }) => share)).toEqual(before.slice(1).map(({ share }) => share));
    for (const [i, step] of before.entries())
      expect(step.share).toBeLessThanOrEqual(before[i - 1]?.share ?? 1);
  });

  it('says nothing beyond what was watched', () => {
    const steps = survival(rows(PUBLISHED));
    expect(stillIn(steps, 12, 35)).toMatchObject({ day: 10 });
    expect(stillIn(steps, 36, 35)).toBeNull();
    expect(survival([])).toEqual([{ day: 0, share: 1, low: 1, high: 1, atRisk: 0 }]);
  });
});
