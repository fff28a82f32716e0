import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dateOrders, keyOf, readDate, readOwnValue } from './values';

describe('values of own fields', () => {
  it.each<[Parameters<typeof readOwnValue>[0], string, unknown]>([
    [{ kind: 'number', options: [] }, '1,250.50', '1250.5'],
    [{ kind: 'number', options: [] }, '007', '7'],
    [{ kind: 'number', options: [] }, '-0', '0'],
    [{ kind: 'number', options: [] }, '1,25', null],
    [{ kind: 'number', options: [] }, 'many', null],
    [{ kind: 'date', options: [] }, '2026-11-24', '2026-11-24'],
    [{ kind: 'date', options: [] }, '2026/1/4 10:30', '2026-01-04'],
    [{ kind: 'date', options: [] }, '24/11/2026', null],
    [{ kind: 'date', options: [] }, '2026-02-31', null],
    [{ kind: 'yes-no', options: [] }, 'Y', 'yes'],
    [{ kind: 'yes-no', options: [] }, 'FALSE', 'no'],
    [{ kind: 'yes-no', options: [] }, 'perhaps', null],
    [{ kind: 'one-of', options: ['Mars'] }, 'MARS', 'Mars'],
    [{ kind: 'one-of', options: ['Mars'] }, 'Pluto', null],
    [{ kind: 'several-of', options: ['Mars', 'Venus'] }, 'venus|mars', ['Mars', 'Venus']],
    [{ kind: 'several-of', options: ['Mars, the red'] }, 'mars, the red', ['Mars, the red']],
    [{ kind: 'text', options: [] }, ` ${'e\u0301'} `, 'é'],
    [{ kind: 'text', options: [] }, 'x'.repeat(501), null],
  ])('%j of %s', (field, raw, value) => {
    const read = readOwnValue(field, raw);
    expect(read.ok ? read.value : null).toEqual(value);
  });

  it('read again what they wrote', () => {
    fc.assert(
      fc.property(fc.constantFrom('text', 'number', 'date', 'yes-no'), fc.string(), (kind, raw) => {
        const once = readOwnValue({ kind, options: [] }, raw);
        if (once.ok && typeof once.value === 'string')
          expect(readOwnValue({ kind, options: [] }, once.value)).toEqual(once);
      }),
    );
  });

  it('know the orders of dates', () => {
    expect(dateOrders(['2026-11-24', 'Nov 24, 2026'])).toEqual([]);
    expect(dateOrders(['2026-11-24', '3/4/2026'])).toEqual(['day-month', 'month-day']);
    expect(readDate('31/02/2026', 'day-month')).toEqual({ ok: false, reason: 'day-does-not-exist' });
    expect(readDate('02/31/2026', 'month-day')).toEqual({ ok: false, reason: 'day-does-not-exist' });
  });

  it.each([
    ['Nov 24, 2026', '2026-11-24'],
    ['Tue, 24 Nov 2026 10:12:00 GMT', '2026-11-24'],
    ['Tuesday, November 24, 2026', '2026-11-24'],
    ['Tue. 2026-11-24', '2026-11-24'],
    ['November 3rd 2026', '2026-11-03'],
    ['24 Nov 2026', '2026-11-24'],
    ['24-Nov-2026', '2026-11-24'],
    ['1st of May', null],
    ['Nov 31, 2026', null],
    ['2026-11-24 10:22:33', '2026-11-24'],
    ['2026-11-24T10:22:33Z', '2026-11-24'],
    ['Nov 24, 2026, 4:15 PM', '2026-11-24'],
    ['Nov 24, 2026 at 4:15 PM', '2026-11-24'],
    ['24-Nov-26', '2026-11-24'],
    ["Nov 24 '26", '2026-11-24'],
    ['4 July 76', '1976-07-04'],
    ['Sirius 24, 2026', null],
  ])('as a date %s is %s', (text, day) => {
    const read = readDate(text, null);
    expect(read.ok ? read.value : null).toBe(day);
  });

  it.each([
    ['11/24/26', 'month-day', '2026-11-24'],
    ['3/4/26 9:15', 'day-month', '2026-04-03'],
    ['24.11.26', 'day-month', '2026-11-24'],
    ['7/4/29', 'month-day', '2029-07-04'],
    ['7/4/30', 'month-day', '1930-07-04'],
    ['11/24/2026', 'month-day', '2026-11-24'],
    // May begin with the year, and is left alone.
    ['26-11-24', 'day-month', null],
    ['3/4/265', 'day-month', null],
    ['3/4.26', 'day-month', null],
    ['3/4/26/5', 'day-month', null],
    ['3/4/2026 12', 'day-month', null],
  ] as const)('of numbers %s, %s, is %s', (text, order, day) => {
    const read = readDate(text, order);
    expect(read.ok ? read.value : null).toBe(day);
  });

  it('tell their order where their years have two digits', () => {
    expect(dateOrders(['3/25/24', '4/1/24 10:00'])).toEqual(['month-day']);
    expect(dateOrders(['25.3.24'])).toEqual(['day-month']);
    expect(dateOrders(['26-11-24'])).toEqual([]);
    expect(dateOrders(['3/25/24', '13/13/24'])).toEqual(['month-day']);
    expect(dateOrders(['3/25/24', '25/3/24'])).toBe('mixed');
  });

  it.each([
    ['Favourite planet', [], 'favourite_planet'],
    ['Favourite planet', ['favourite_planet'], 'favourite_planet_2'],
    ['Größe (cm)', [], 'gro_e_cm'],
    ['1st visit', [], 'field_1st_visit'],
    ['行', [], 'field'],
  ])('get a key from %s', (label, taken, key) => expect(keyOf(label, taken)).toBe(key));
});
