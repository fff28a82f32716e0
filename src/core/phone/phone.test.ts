import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { areaCodeOf, displayNumber, parseNumber } from './number';
import { isRegion, placeOf } from './place';
import { placeOfPostalCode } from './postal';

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

describe('places', () => {
  it.each([
    ['+13035550101', 'CO', ['America/Denver']],
    ['+16025550101', 'AZ', ['America/Phoenix']],
    ['+19285550101', 'AZ', ['America/Phoenix', 'America/Denver']],
    ['+18505550101', 'FL', ['America/New_York', 'America/Chicago']],
    ['+14485550101', 'FL', ['America/New_York', 'America/Chicago']],
    ['+12195550101', 'IN', ['America/New_York', 'America/Chicago']],
    ['+12085550101', 'ID', ['America/Boise', 'America/Los_Angeles']],
    ['+19155550101', 'TX', ['America/Denver']],
    ['+18085550101', 'HI', ['Pacific/Honolulu']],
  ])('%s lies in %s', (number, region, zones) =>
    expect(placeOf({ number })).toEqual({ region, zones, basis: 'area-code' }),
  );

  it.each([
    ['81201', 'CO', null],
    ['32501', 'FL', ['America/Chicago']],
    ['33101', 'FL', ['America/New_York']],
    ['79901', 'TX', ['America/Denver']],
    ['78701', 'TX', ['America/Chicago']],
    ['37201', 'TN', ['America/Chicago']],
    ['37901', 'TN', ['America/New_York']],
    ['83801', 'ID', ['America/Los_Angeles']],
    ['86503', 'AZ', ['America/Phoenix', 'America/Denver']],
    ['97901-1234', 'OR', ['America/Denver', 'America/Los_Angeles']],
    ['10001', 'NY', null],
    ['06101', 'CT', null],
    ['99501', 'AK', null],
  ])('the code %s is in %s', (code, region, zones) =>
    expect(placeOfPostalCode(code)).toEqual({ region, zones }),
  );

  it.each(['', '123', 'ABCDE', '00000', '123456'])('%j is no postal code of a state', (code) =>
    expect(placeOfPostalCode(code)).toBeNull(),
  );

  it.each([
    [
      'zone over all',
      { zone: 'Europe/Paris', region: 'FL', postalCode: '32501' },
      'zone',
      ['Europe/Paris'],
      'FL',
    ],
    ['postal code over area code', { postalCode: '32501' }, 'postal-code', ['America/Chicago'], 'FL'],
    ['state over area code', { region: 'WA' }, 'region', ['America/Los_Angeles'], 'WA'],
    [
      'state over a code of another state',
      { region: 'WA', postalCode: '32501' },
      'postal-code',
      ['America/Los_Angeles'],
      'WA',
    ],
    ['an unknown state is ignored', { region: 'ZZ' }, 'area-code', ['America/Denver'], 'CO'],
  ] as const)('%s', (_, where, basis, zones, region) =>
    expect(placeOf({ number: '+13035550101', ...where })).toEqual({ region, zones, basis }),
  );

  it('knows nothing of a toll-free or foreign number, and then asks for an hour decent everywhere', () => {
    for (const number of ['+18005550101', '+442079460958'])
      expect(placeOf({ number })).toMatchObject({ basis: 'nothing', region: null });
    expect(placeOf({ number: '+18005550101' }).zones).toContain('Pacific/Honolulu');
  });

  it('knows fifty states and the capital', () =>
    expect(['CO', 'DC', 'AK', 'HI', 'WY'].every(isRegion)).toBe(true));
});
