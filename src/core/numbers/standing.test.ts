import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { standingOf, type NumberCounts } from './standing';

const counts = (more: Partial<NumberCounts> = {}): NumberCounts => ({
  ...{ delivered: 1_960, failed: 40, blocked: 0, answered: 80, lost: 10 },
  ...more,
});
const state = (now: Partial<NumberCounts>, before: Partial<NumberCounts> = {}) =>
  standingOf(counts(now), counts(before)).state;

describe('the standing of a number', () => {
  it.each([
    ['as it always was', {}, 'well'],
    ['of a week in which nothing was sent', { delivered: 0, failed: 0, answered: 0, lost: 0 }, 'quiet'],
    [
      'that carriers begin to refuse as spam',
      { delivered: 142, failed: 11, blocked: 9, answered: 6, lost: 0 },
      'unwell',
    ],
    ['that arrives less', { delivered: 900, failed: 100, answered: 40, lost: 5 }, 'unwell'],
    ['that costs more people than it did', { lost: 40 }, 'watch'],
    // Three of forty are not worse than two in a hundred.
    ['of too few to say', { delivered: 37, failed: 3, answered: 1, lost: 0 }, 'well'],
  ] as const)('%s', (_, now, expected) => expect(state(now)).toBe(expected));

  it('is no better for what is real and does not matter', () => {
    const many = (delivered: number) =>
      counts({ delivered, failed: 1_000_000 - delivered, answered: 0, lost: 0 });
    expect(standingOf(many(975_000), many(980_000))).toMatchObject({ state: 'well' });
  });

  it('against itself is well or quiet, whatever it did', () => {
    const n = fc.integer({ min: 0, max: 5_000 });
    fc.assert(
      fc.property(n, n, n, n, n, (delivered, failed, blocked, answered, lost) => {
        const one = { delivered, failed, blocked: Math.min(blocked, failed), answered, lost };
        expect(['well', 'quiet']).toContain(standingOf(one, one).state);
      }),
    );
  });
});
