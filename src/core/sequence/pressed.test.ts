import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY, SECOND } from '../shared/instant';
import { pretendedAt, realAt } from './pressed';
import { NOON } from './testing/stage';

describe('time pressed together', () => {
  const pace = { began: NOON, dayMs: 10 * SECOND };

  it('lets a day pass in ten seconds', () => {
    expect(pretendedAt(pace, NOON + 10 * SECOND)).toBe(NOON + DAY);
    expect(realAt(pace, NOON + 3 * DAY)).toBe(NOON + 30 * SECOND);
  });

  it('is the clock itself where a day takes a day', () => {
    expect(pretendedAt({ began: NOON, dayMs: DAY }, NOON + 12_345)).toBe(NOON + 12_345);
  });

  it('never comes before its moment', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 400 * DAY }),
        fc.integer({ min: 1, max: DAY }),
        (ahead, dayMs) => {
          const pressed = { began: NOON, dayMs };
          expect(pretendedAt(pressed, realAt(pressed, NOON + ahead))).toBeGreaterThanOrEqual(NOON + ahead);
        },
      ),
    ));
});
