import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY } from '../shared/instant';
import { mostInAWeek } from './pile-up';

describe('messages that pile up', () => {
  it.each([
    ['none', [], 0],
    ['one', [0], 1],
    ['one a week', [0, 7, 14], 1],
    ['two within a week, whatever their order', [14, 0, 6.99], 2],
    ['the busiest week, not the first', [0, 20, 21, 22], 3],
  ])('%s', (_, days, most) => expect(mostInAWeek(days.map((day) => day * DAY))).toBe(most));

  it('counts as the slow way does', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 60 * DAY }), { maxLength: 30 }), (instants) => {
        const slow = instants.map(
          (from) => instants.filter((at) => at >= from && at < from + 7 * DAY).length,
        );
        expect(mostInAWeek(instants)).toBe(Math.max(0, ...slow));
      }),
    ));
});
