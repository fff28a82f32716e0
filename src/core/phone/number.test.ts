import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { areaCodeOf, displayNumber, parseNumber } from './number';

describe('numbers', () => {
  it.each([
    ['(303) 555-0123', '+13035550123'],
    ['303-555-0123', '+13035550123'],
    ['303.555.0123', '+13035550123'],
    ['3035550123', '+13035550123'],
    ['1 303 555 0123', '+13035550123'],
    ['+1 (303) 555-0123', '+13035550123'],
    ['  303 555 0123  ', '+13035550123'],
    ['３０３５５５０１２３', '+13035550123'],
    ['+442079460958', '+442079460958'],
    ['303–555–0123', '+13035550123'],
    ['303 555‑0123', '+13035550123'],
  ])('reads %j', (text, number) => expect(parseNumber(text)).toEqual({ ok: true, value: number }));

  it.each([
    ['', 'number-empty'],
    ['   ', 'number-empty'],
    ['call me', 'number-unreadable'],
    ['ana@example.org', 'number-unreadable'],
    ['555', 'number-too-short'],
    ['555-0123', 'number-too-short'],
    ['303 555 01234567', 'number-too-long'],
    ['9'.repeat(60), 'number-too-long'],
    ['000 000 0000', 'number-impossible'],
    ['103 555 0123', 'number-impossible'],
    ['<script>', 'number-unreadable'],
  ])('refuses %j as %s', (text, reason) => expect(parseNumber(text)).toEqual({ ok: false, reason }));

  it('reads back what it shows', () => {
    const digits = fc.tuple(
      fc.integer({ min: 200, max: 999 }),
      fc.integer({ min: 200, max: 999 }),
      fc.integer({ min: 0, max: 9_999 }),
    );
    fc.assert(
      fc.property(digits, ([area, exchange, line]) => {
        const number = `+1${area}${exchange}${String(line).padStart(4, '0')}`;
        expect(parseNumber(displayNumber(number))).toEqual({ ok: true, value: number });
      }),
    );
  });

  it('never throws', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 60 }), (text) => {
        expect(typeof parseNumber(text).ok).toBe('boolean');
      }),
    );
  });

  it.each([
    ['+13035550123', '303', '(303) 555-0123'],
    ['+442079460958', null, '+44 20 7946 0958'],
    ['55501', null, '55501'],
  ])('shows %s', (number, area, shown) => {
    expect(areaCodeOf(number)).toBe(area);
    expect(displayNumber(number)).toBe(shown);
  });
});
