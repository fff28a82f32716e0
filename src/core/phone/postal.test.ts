import { describe, expect, it } from 'vitest';
import { placeOfPostalCode } from './postal';

describe('postal codes', () => {
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
});
