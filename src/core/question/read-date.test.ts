import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readWrittenDate } from './read-date';

const read = (
  body: string,
  order: 'month-day' | 'day-month' = 'month-day',
  partial: string | null = null,
) => {
  const result = readWrittenDate(body, { today: '2026-11-28', order, partial });
  return result.ok ? ('day' in result.value ? result.value.day : `--${result.value.partial}`) : result.reason;
};

describe('a date as people write it', () => {
  it.each([
    ['5th of May 1990', '1990-05-05'],
    ['May the 5th, 1990', '1990-05-05'],
    ["it's the fifth of may 1990!", '1990-05-05'],
    ['May 5 ’90', '1990-05-05'],
    ["5 May '90", '1990-05-05'],
    ['5-May-1990', '1990-05-05'],
    ['Sept. 3, 1978', '1978-09-03'],
    ['3rd sept 78', '1978-09-03'],
    ['24. Dezember 1999', '1999-12-24'],
    ['1er août 2001', '2001-08-01'],
    ['el 12 de octubre de 1985', '1985-10-12'],
    ['I was born on February 29, 1996', '1996-02-29'],
    ['1990-05-05', '1990-05-05'],
    ['1990/5/5', '1990-05-05'],
    ['19900505', '1990-05-05'],
    ['05051990', '1990-05-05'],
    ['12/24/99', '1999-12-24'],
    ['24/12/99', '1999-12-24'],
    ['24.12.1999', '1999-12-24'],
    ['my birthday is 7/4/1976', '1976-07-04'],
    ['７/４/１９７６', '1976-07-04'],
    ['today', '2026-11-28'],
    ['Tomorrow!', '2026-11-29'],
    ['yesterday', '2026-11-27'],
    ['May 5', '--05-05'],
    ['5/5', '--05-05'],
    ['Feb 29', '--02-29'],
  ])('%s is %s', (body, day) => expect(read(body)).toBe(day));

  it('takes the day first where that is usual, unless it cannot be one', () => {
    expect(read('3/4/1990', 'month-day')).toBe('1990-03-04');
    expect(read('3/4/1990', 'day-month')).toBe('1990-04-03');
    expect(read('3/24/1990', 'day-month')).toBe('1990-03-24');
  });

  it.each([
    ['2/30/1990', 'no-such-day'],
    ['February 29, 1995', 'no-such-day'],
    ['31 June', 'no-such-day'],
    ['13/13/1990', 'no-such-day'],
    ['why do you ask', 'no-date'],
    ['May I bring a friend?', 'no-date'],
    ['the 5th', 'no-date'],
    ['in 1990', 'no-date'],
    ['', 'no-date'],
  ])('%s: %s', (body, why) => expect(read(body)).toBe(why));

  it.each(['1990', '90', "'90", 'in 1990', 'I was born in 1990', 'the year 1990'])(
    'takes “%s” as the year of what was said before',
    (body) => expect(read(body, 'month-day', '05-05')).toBe('1990-05-05'),
  );

  it('is that of a year that has come, where two digits are written', () => {
    expect(read('5/5/26')).toBe('2026-05-05');
    expect(read('5/5/27')).toBe('1927-05-05');
  });

  it('is read whatever stands around it, or refused, and never throws', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), (text) => {
        expect(typeof read(text)).toBe('string');
      }),
    );
  });
});
