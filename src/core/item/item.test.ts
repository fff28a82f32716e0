import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { parseTemplate } from '../text/template';
import { itemColumns } from './columns';
import {
  itemField,
  itemRefusal,
  itemsNamed,
  itemWords,
  keyOfNumber,
  whenWords,
  withItems,
  type Item,
} from './item';
import { readWhen } from './read-when';

const ZONE = 'America/Denver';
const at = Date.parse('2026-12-05T02:30:00Z');
const item: Item = {
  ...{ number: 'E-204', kind: 'event', name: 'Ring night', place: 'the dome', price: '12 USD', url: '' },
  ...{ startsAt: at, endsAt: null, allDay: false, state: 'on' },
};

describe('an item', () => {
  it.each<[string, string, string, string]>([
    ['2026-12-05T02:30:00Z', ZONE, 'US', 'Fri, Dec 4, 7:30 pm'],
    ['2026-12-05T02:00:00Z', ZONE, 'US', 'Fri, Dec 4, 7 pm'],
    ['2026-12-04T07:00:00Z', ZONE, 'US', 'Fri, Dec 4, 12 am'],
    ['2026-12-04T19:00:00Z', ZONE, 'US', 'Fri, Dec 4, 12 pm'],
    ['2026-07-01T18:05:00Z', 'Europe/Vienna', 'AT', 'Wed 1 Jul, 20:05'],
  ])('is said when it is: %s', (iso, zone, country, words) =>
    expect(whenWords({ startsAt: Date.parse(iso), allDay: false }, zone, country)).toBe(words),
  );

  it('on all day names no hour', () =>
    expect(whenWords({ startsAt: at, allDay: true }, ZONE, 'US')).toBe('Fri, Dec 4'));

  it.each<[Partial<Item>, number, string | null]>([
    [{}, at - 1, null],
    [{}, at, 'over'],
    [{ endsAt: at + 1_000 }, at, null],
    [{ startsAt: null }, at, null],
    [{ state: 'sold-out' }, at - 1, 'sold-out'],
    [{ state: 'cancelled' }, at + 1, 'cancelled'],
  ])('%j', (more, now, why) => expect(itemRefusal({ ...item, ...more }, now)).toBe(why));

  it('is put into a text as words, and what it does not have stays a field', () => {
    const source = `{$${itemField('E-204', 'name')} :wren:field}: {$${itemField('E-204', 'when')} :wren:field}, {$item.e_204.link :wren:field}{$item.x.name :wren:field}`;
    expect(itemsNamed(source)).toEqual(['e_204', 'x']);
    const filled = withItems(source, new Map([['e_204', itemWords(item, ZONE, 'US')]]));
    expect(filled).toBe(
      'Ring night: Fri, Dec 4, 7:30 pm, {$item.e_204.link :wren:field}{$item.x.name :wren:field}',
    );
  });

  it('whatever it is called, nothing of it is read as anything but words', () =>
    fc.assert(
      fc.property(fc.string(), (name) => {
        const words = { ...itemWords(item, ZONE, 'US'), name: name || 'x' };
        const read = parseTemplate(
          withItems('A {$item.e_204.name :wren:field} Z', new Map([['e_204', words]])),
        );
        expect(read.ok && read.value.render({}).text).toBe(`A ${name || 'x'} Z`);
      }),
    ));

  it.each([
    ['E-204', 'e_204'],
    [' 12 / B ', '12_b'],
    ['Führung 3', 'fuhrung_3'],
    ['–', ''],
  ])('number %s is known as %s', (number, key) => expect(keyOfNumber(number)).toBe(key));
});

describe('a day and an hour', () => {
  it.each<[string, string]>([
    ['2026-12-04 19:30', '2026-12-05T02:30:00.000Z'],
    ['2026-12-04T19:30', '2026-12-05T02:30:00.000Z'],
    ['2026-12-04T19:30:00-07:00', '2026-12-05T02:30:00.000Z'],
    ['2026-12-05T02:30:00Z', '2026-12-05T02:30:00.000Z'],
    ['12/4/2026 7:30 PM', '2026-12-05T02:30:00.000Z'],
    ['12/4/2026, 7 p.m.', '2026-12-05T02:00:00.000Z'],
    ['12/4/2026 12:15 am', '2026-12-04T07:15:00.000Z'],
    ['2026-12-04', '2026-12-04T07:00:00.000Z'],
    ['12/4/26 7:30 PM', '2026-12-05T02:30:00.000Z'],
    ['Dec 4, 2026 7:30 PM', '2026-12-05T02:30:00.000Z'],
    ['Fri, Dec 4, 2026 at 7:30 PM', '2026-12-05T02:30:00.000Z'],
    ['4 Dec 2026 19:30', '2026-12-05T02:30:00.000Z'],
    ['December 4th, 2026', '2026-12-04T07:00:00.000Z'],
    ['2026-12-04 19:30 -0700', '2026-12-05T02:30:00.000Z'],
    ['2026-12-05 02:30:00 UTC', '2026-12-05T02:30:00.000Z'],
    ['20261204T193000', '2026-12-05T02:30:00.000Z'],
    ['20261205T023000Z', '2026-12-05T02:30:00.000Z'],
    ['20261204', '2026-12-04T07:00:00.000Z'],
  ])('%s', (text, iso) => {
    const read = readWhen(text, ZONE, 'month-day');
    expect(read.ok && new Date(read.value.at).toISOString()).toBe(iso);
  });

  it('of a country that writes the day first', () => {
    const read = readWhen('4.12.2026 19:30', 'Europe/Vienna', 'day-month');
    expect(read.ok && new Date(read.value.at).toISOString()).toBe('2026-12-04T18:30:00.000Z');
  });

  it.each([
    '',
    'soon',
    '2026-13-01',
    '2026-12-04 25:00',
    '12/4/2026 19:30 PM',
    '30/30/2026',
    'Dec 4',
    ' T'.repeat(5e5),
  ])('none: %.40s', (text) => expect(readWhen(text, ZONE, 'month-day').ok).toBe(false));
});

describe('columns', () => {
  it('are known by what programs call them', () =>
    expect(
      itemColumns(['Event ID', 'Title', 'Start Date', 'END', 'Venue', 'Notes', 'url', 'Status']),
    ).toEqual({
      ...{ number: 0, name: 1, starts: 2, ends: 3, place: 4, link: 6, state: 7 },
    }));
});
