import { describe, expect, it } from 'vitest';
import { isRegion, placeKey, placeOf } from './place';

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
    expect(placeOf({ number })).toEqual({ region, country: 'US', zones, basis: 'area-code' }),
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
    expect(placeOf({ number: '+13035550101', ...where })).toEqual({
      ...{ region, country: 'US', zones, basis },
    }),
  );

  it('knows nothing of a toll-free number, and then asks for an hour decent everywhere', () => {
    expect(placeOf({ number: '+18005550101' })).toMatchObject({ basis: 'nothing', region: null });
    expect(placeOf({ number: '+18005550101' }).zones).toContain('Pacific/Honolulu');
  });

  it('knows the hours of the country of a foreign number, in all of its zones', () => {
    expect(placeOf({ number: '+442079460958' })).toEqual({
      ...{ region: null, country: 'GB', zones: ['Europe/London'], basis: 'country' },
    });
    const canada = placeOf({ number: '+14165550101' });
    expect(canada).toMatchObject({ country: 'CA', region: null, basis: 'country' });
    expect(canada.zones).toContain('America/St_Johns');
    expect(canada.zones.length).toBeLessThan(12);
    // Five digits of Berlin are none of New York.
    expect(placeOf({ number: '+493023125555', postalCode: '10115' })).toMatchObject({
      ...{ country: 'DE', region: null, zones: ['Europe/Berlin'] },
    });
    expect(placeOf({ number: '+442079460958', zone: 'Europe/Paris' })).toMatchObject({
      ...{ country: 'GB', zones: ['Europe/Paris'], basis: 'zone' },
    });
  });

  it('have a key in common exactly where the same hours count', () => {
    const of = (number: string, zone: string | null = null) => placeKey(placeOf({ number, zone }));
    expect(of('+13035550100')).toBe(of('+13035550199'));
    expect(of('+13035550100')).not.toBe(of('+12125550100'));
    expect(of('+13035550100', 'America/Phoenix')).not.toBe(of('+13035550100'));
    expect(of('+13035550100', 'America/Phoenix')).toBe(of('+13035550100', 'America/Phoenix'));
  });

  it('knows fifty states and the capital', () =>
    expect(['CO', 'DC', 'AK', 'HI', 'WY'].every(isRegion)).toBe(true));
});
