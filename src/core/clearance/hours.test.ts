import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placeOf } from '../phone/place';
import { DAY, MINUTE, toIso } from '../shared/instant';
import { hoursVerdict } from './hours';
import { SHIPPED_RULES } from './rules';
import { at } from './testing/input';

describe('sending hours', () => {
  const until = (
    number: string,
    time: string,
    address: { region?: string; postalCode?: string; zone?: string } = {},
  ) => {
    const verdict = hoursVerdict(SHIPPED_RULES, placeOf({ number, ...address }), null, at(time));
    return verdict.until === null ? 'open' : toIso(verdict.until);
  };
  it.each([
    ['Denver at 20:59', '+13035550101', '2026-11-24T20:59:00-07:00', 'open'],
    ['Denver at 21:00', '+13035550101', '2026-11-24T21:00:00-07:00', '2026-11-25T15:00:00.000Z'],
    ['Denver at 07:59', '+13035550101', '2026-11-24T07:59:00-07:00', '2026-11-24T15:00:00.000Z'],
    [
      'Arizona knows no daylight saving',
      '+16025550101',
      '2026-07-01T07:30:00-07:00',
      '2026-07-01T15:00:00.000Z',
    ],
    [
      'Florida, split code, waits for Pensacola',
      '+18505550101',
      '2026-11-24T08:30:00-05:00',
      '2026-11-24T14:00:00.000Z',
    ],
    [
      'Florida, split code, ends with Tallahassee',
      '+18505550101',
      '2026-11-24T20:00:00-05:00',
      '2026-11-25T14:00:00.000Z',
    ],
    ['Texas on Sunday morning', '+15125550101', '2026-11-22T10:00:00-06:00', '2026-11-22T18:00:00.000Z'],
    [
      'Texas on Saturday evening waits until Sunday noon',
      '+15125550101',
      '2026-11-21T21:30:00-06:00',
      '2026-11-22T18:00:00.000Z',
    ],
    ['Connecticut at 08:30', '+18605550101', '2026-11-24T08:30:00-05:00', '2026-11-24T14:00:00.000Z'],
    [
      'the morning the clocks spring forward',
      '+13035550101',
      '2026-03-07T22:00:00-07:00',
      '2026-03-08T14:00:00.000Z',
    ],
    [
      'the morning the clocks fall back',
      '+13035550101',
      '2026-10-31T22:00:00-06:00',
      '2026-11-01T15:00:00.000Z',
    ],
    ['toll-free: decent everywhere', '+18005550101', '2026-11-24T12:00:00-05:00', '2026-11-24T18:00:00.000Z'],
  ])('%s', (_, number, time, expected) => expect(until(number, time)).toBe(expected));

  it('believes an address before the area code, and the person’s own zone before both', () => {
    expect(until('+13035550101', '2026-11-24T20:30:00-05:00', { region: 'FL' })).not.toBe('open');
    expect(until('+12125550101', '2026-11-24T21:30:00-05:00', { postalCode: '81201' })).toBe('open');
    expect(until('+13035550101', '2026-11-24T20:30:00-07:00', { zone: 'America/New_York' })).not.toBe('open');
    expect(until('+18505550101', '2026-11-24T08:30:00-06:00', { postalCode: '32501' })).toBe('open');
  });

  it('gives an instant that is open for everybody it speaks of, and never one before the question', () => {
    const numbers = fc.constantFrom(
      '+13035550101',
      '+18505550101',
      '+15125550101',
      '+18005550101',
      '+19285550101',
      '+12085550101',
      '+19075550101',
      '+18605550101',
    );
    fc.assert(
      fc.property(numbers, fc.integer({ min: 0, max: 366 * 24 * 60 }), (number, minute) => {
        const asked = at('2026-01-01T00:00:00Z') + minute * MINUTE;
        const place = placeOf({ number });
        const { until: next } = hoursVerdict(SHIPPED_RULES, place, null, asked);
        if (next === null) return;
        expect(next).toBeGreaterThan(asked);
        expect(next).toBeLessThanOrEqual(asked + 3 * DAY);
        expect(hoursVerdict(SHIPPED_RULES, place, null, next).until).toBeNull();
      }),
      { numRuns: 300 },
    );
  });
});
