import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countedDay } from './counted-day';

describe('a day as programs count it', () => {
  it.each([
    ['36526', '2000-01-01'],
    ['36584', '2000-02-28'],
    ['36585', '2000-02-29'],
    ['46350', '2026-11-24'],
    ['46350.75', '2026-11-24'],
    ['10000', '1927-05-18'],
    ['73050', '2099-12-31'],
    ['1711361520', '2024-03-25'],
    ['1711361520123', '2024-03-25'],
    ['1711361520.5', '2024-03-25'],
  ])('%s is %s', (text, day) => expect(countedDay(text)).toBe(day));

  it.each([
    '',
    '9999',
    '73051',
    '463500',
    '4635',
    '46350-1',
    '46,350',
    '-46350',
    '46350.',
    '11/24/2026',
    'x46350',
    '2125550101',
    '3035550101',
    '13035550101',
    '171136152',
  ])('“%s” is none', (text) => expect(countedDay(text)).toBeNull());

  it('goes on by one a day', () => {
    fc.assert(
      fc.property(fc.integer({ min: 10_000, max: 73_049 }), (count) => {
        const [one, next] = [countedDay(String(count))!, countedDay(String(count + 1))!];
        expect(Date.parse(next) - Date.parse(one)).toBe(86_400_000);
      }),
    );
  });
});
