import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  allowsMore,
  promiseFor,
  reachesFurther,
  type Frequency,
  type Promised,
  type Purpose,
} from './promise';

const FOUR = { count: 4, period: 'month' } as const;
const SIX = { count: 6, period: 'month' } as const;
const TWO = { count: 2, period: 'month' } as const;

const HISTORY: Promised[] = [
  { since: 0, promise: FOUR, binds: 'all' },
  { since: 100, promise: SIX, binds: 'later' },
  { since: 200, promise: TWO, binds: 'all' },
  { since: 300, promise: null, binds: 'later' },
];

describe('what holds for somebody', () => {
  it.each<[string, number, number | null, Frequency]>([
    ['who agreed before it was raised keeps theirs', 2, 50, FOUR],
    ['who agreed after it was raised has the new one', 2, 150, SIX],
    ['who agreed at that very moment has the new one', 2, 100, SIX],
    ['has the lower one, whenever they agreed', 3, 50, TWO],
    ['keeps the lower one when the number is dropped for later people', 4, 250, TWO],
    ['who has not agreed yet is promised what is promised now', 4, null, null],
  ])('%s', (_, rows, agreed, promise) => expect(promiseFor(HISTORY.slice(0, rows), agreed)).toEqual(promise));

  it('is nothing where nothing was ever promised', () => expect(promiseFor([], 5)).toBeNull());

  it('never lets more be sent than the promise they agreed to, unless one since was made for all', () => {
    const promise = fc.option(
      fc.record({ count: fc.integer({ min: 1, max: 30 }), period: fc.constantFrom('week', 'month') }),
    ) as fc.Arbitrary<Frequency>;
    fc.assert(
      fc.property(fc.array(promise, { minLength: 1, maxLength: 8 }), fc.nat(9), (promises, agreed) => {
        const history = promises.map((one, i): Promised => ({ since: i, promise: one, binds: 'later' }));
        const theirs = promises[Math.min(agreed, promises.length - 1)]!;
        expect(promiseFor(history, agreed)).toEqual(theirs);
        expect(allowsMore(theirs, promiseFor(history, agreed))).toBe(false);
      }),
    );
  });
});

describe('a change', () => {
  it.each<[Frequency, Frequency, boolean]>([
    [FOUR, SIX, true],
    [SIX, FOUR, false],
    [FOUR, FOUR, false],
    [FOUR, null, true],
    [null, FOUR, false],
    [null, null, false],
    [FOUR, { count: 1, period: 'week' }, true],
    [{ count: 1, period: 'week' }, FOUR, false],
  ])('from %j to %j allows more: %s', (before, after, more) => expect(allowsMore(before, after)).toBe(more));

  it.each<[Purpose, Purpose, boolean]>([
    ['inquiry', 'marketing', true],
    ['utility', 'recurring', true],
    ['inquiry', 'utility', true],
    ['marketing', 'recurring', false],
    ['recurring', 'marketing', false],
    ['marketing', 'utility', false],
  ])('from %s to %s reaches further: %s', (before, after, further) =>
    expect(reachesFurther(before, after)).toBe(further),
  );
});
