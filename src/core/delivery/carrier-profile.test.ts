import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  differences,
  readProfile,
  SETTING_WORDS,
  SHIPPED_PROFILES,
  STANDARD_PROFILE,
} from './carrier-profile';

const problemsOf = (input: Record<string, unknown>) => readProfile(input).problems.map(({ field }) => field);

describe('the profile of a carrier', () => {
  it('is what was written, and else as it was', () => {
    const base = readProfile({ tls: true, window: 20 }).profile;
    expect(readProfile({ parts: 'sar' }, base).profile).toEqual({
      ...STANDARD_PROFILE,
      ...{ tls: true, window: 20, parts: 'sar' },
    });
  });

  it.each<[string, unknown]>([
    ['bind', 'transmitter'],
    ['tls', 'yes'],
    ['systemType', 'thirteen chars'],
    ['systemType', 'naïve'],
    ['alphabet', 'UTF-8'],
    ['parts', null],
    ['internationalTon', 256],
    ['shortCodeNpi', -1],
    ['internationalNpi', 1.5],
    ['plus', 0],
    ['country', 'us'],
    ['receiptIds', 'octal'],
    ['statuses', { 1024: 'bad luck' }],
    ['statuses', ['spam-blocked']],
    ['errors', { 'a code that is long': 'landline' }],
    ['errors', Object.fromEntries(Array.from({ length: 201 }, (_, i) => [i, 'landline']))],
    ['window', 0],
    ['window', 10_001],
    ['constructor', {}],
    ['nothing', 1],
  ])('refuses %s: %j by its name, and keeps nothing', (field, value) => {
    const { profile, problems } = readProfile({
      tls: true,
      [field]: value,
      ...(field === 'tls' ? { tls: value } : {}),
    });
    expect(problems.map((one) => one.field)).toEqual([field]);
    expect(problems[0]!.message).toMatch(new RegExp(`^${field}: .+\\.$`));
    expect(profile).toBe(STANDARD_PROFILE);
  });

  it('takes every shipped one as it stands, and says what differs from the standard', () => {
    for (const { profile } of SHIPPED_PROFILES) {
      expect(problemsOf({ ...profile })).toEqual([]);
      expect({ ...STANDARD_PROFILE, ...differences(profile) }).toEqual(profile);
    }
    expect(differences(STANDARD_PROFILE)).toEqual({});
  });

  it('says of each setting what may stand there', () =>
    expect(Object.keys(SETTING_WORDS).sort()).toEqual(Object.keys(STANDARD_PROFILE).sort()));

  it('is refused or whole, whatever somebody wrote', () => {
    const key = fc.oneof(fc.constantFrom(...Object.keys(STANDARD_PROFILE)), fc.string());
    fc.assert(
      fc.property(fc.dictionary(key, fc.jsonValue()), (input) => {
        const { profile, problems } = readProfile(input);
        if (problems.length > 0) expect(profile).toBe(STANDARD_PROFILE);
        else expect(problemsOf({ ...profile })).toEqual([]);
      }),
    );
  });
});
