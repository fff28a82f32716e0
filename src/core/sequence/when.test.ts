import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY, HOUR, toIso } from '../shared/instant';
import type { When } from './document';
import { at, NOON } from './testing/stage';
import { anniversary, dayNumber, momentOf, openFrom, type Counting, type Somebody } from './when';
import { instantAt } from '../shared/zone';

type Told = Counting & Somebody;
const counting = (more: Partial<Told> = {}): Told => ({
  ...{ arrived: NOON, began: NOON, before: NOON, acted: null, zone: 'America/Denver' },
  dateOf: () => null,
  ...more,
});
const moment = (when: When, more: Partial<Told> = {}) => {
  const found = momentOf(when, counting(more), counting(more));
  return found === null ? null : toIso(found);
};

describe('the moment of a line', () => {
  it.each<[string, When, Partial<Told>, string | null]>([
    ['at once', { at: 'once' }, {}, '2026-11-24T19:00:00.000Z'],
    [
      'a day after the line before left',
      { at: 'after', minutes: 1_440, from: 'before' },
      { before: NOON + HOUR },
      '2026-11-25T20:00:00.000Z',
    ],
    [
      'a day after the beginning, whenever the line before left',
      { at: 'after', minutes: 1_440, from: 'beginning' },
      { before: NOON + HOUR },
      '2026-11-25T19:00:00.000Z',
    ],
    ['day 2 at 09:40', { at: 'day', day: 2, time: '09:40' }, {}, '2026-11-25T16:40:00.000Z'],
    [
      'day 1 is the day it began where they live, not in Greenwich',
      { at: 'day', day: 1, time: '23:30' },
      { began: at('2026-11-25T05:00:00Z') },
      '2026-11-25T06:30:00.000Z',
    ],
    [
      'over a change of clocks the hour of the day stays',
      { at: 'day', day: 12, time: '09:40' },
      { began: at('2026-10-25T12:00:00-06:00') },
      '2026-11-05T16:40:00.000Z',
    ],
    ['the next Thursday', { at: 'weekday', days: [4], time: '10:00' }, {}, '2026-11-26T17:00:00.000Z'],
    [
      'today is the next such day while its hour has not come',
      { at: 'weekday', days: [2, 3], time: '13:00' },
      {},
      '2026-11-24T20:00:00.000Z',
    ],
    ['tomorrow once it has', { at: 'weekday', days: [2, 3], time: '11:00' }, {}, '2026-11-25T18:00:00.000Z'],
    [
      'three days before a date',
      { at: 'date', field: 'own.visit', days: -3, yearly: false, time: '09:00' },
      { dateOf: () => '2026-12-10' },
      '2026-12-07T16:00:00.000Z',
    ],
    [
      'an empty date has none',
      { at: 'date', field: 'own.visit', days: 0, yearly: false, time: '09:00' },
      {},
      null,
    ],
    [
      'the next birthday',
      { at: 'date', field: 'own.born', days: 0, yearly: true, time: '09:00' },
      { dateOf: () => '1990-03-02' },
      '2027-03-02T16:00:00.000Z',
    ],
    [
      'born on 29 February: the 28th where there is none',
      { at: 'date', field: 'own.born', days: 0, yearly: true, time: '09:00' },
      { dateOf: () => '2000-02-29' },
      '2027-02-28T16:00:00.000Z',
    ],
    [
      'a week after a birthday that was last year',
      { at: 'date', field: 'own.born', days: 7, yearly: true, time: '09:00' },
      { dateOf: () => '1990-12-30', arrived: at('2027-01-02T12:00:00-07:00') },
      '2027-01-06T16:00:00.000Z',
    ],
    [
      'as soon as they reply',
      { at: 'until', act: 'reply', minutes: 60 },
      { acted: NOON + 5 },
      toIso(NOON + 5),
    ],
    ['at the latest after an hour', { at: 'until', act: 'reply', minutes: 60 }, {}, toIso(NOON + HOUR)],
  ])('%s', (_, when, more, expected) => expect(moment(when, more)).toBe(expected));

  it('in an hour that is missing is the one after it, in one that comes twice the first', () => {
    expect(toIso(instantAt('2026-03-08', '02:30', 'America/Denver'))).toBe('2026-03-08T09:30:00.000Z');
    expect(toIso(instantAt('2026-11-01', '01:30', 'America/Denver'))).toBe('2026-11-01T07:30:00.000Z');
    expect(toIso(instantAt('2026-03-08', '02:30', 'America/Phoenix'))).toBe('2026-03-08T09:30:00.000Z');
  });

  it('never lies before the line became the next, for what is counted from there', () => {
    const times = fc.constantFrom('00:00', '02:30', '23:59');
    fc.assert(
      fc.property(
        fc.integer({ min: NOON, max: NOON + 400 * DAY }),
        fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
        times,
        (arrived, days, time) => {
          const found = momentOf({ at: 'weekday', days, time }, counting({ arrived }), counting())!;
          expect(found).toBeGreaterThanOrEqual(arrived);
          expect(found - arrived).toBeLessThanOrEqual(8 * DAY);
        },
      ),
    );
  });
});

describe('hours it may act in', () => {
  const hours = {
    days: [1, 2, 3, 4, 5],
    from: '09:00',
    to: '17:00',
    holidays: ['2026-11-26'],
    apart_minutes: 0,
  };
  it.each([
    ['inside them at once', '2026-11-24T12:00:00-07:00', '2026-11-24T19:00:00.000Z'],
    ['before they open', '2026-11-24T06:00:00-07:00', '2026-11-24T16:00:00.000Z'],
    ['at their end it is the next day', '2026-11-24T17:00:00-07:00', '2026-11-25T16:00:00.000Z'],
    ['over a holiday and a weekend', '2026-11-25T18:00:00-07:00', '2026-11-27T16:00:00.000Z'],
    ['over a weekend', '2026-11-27T18:00:00-07:00', '2026-11-30T16:00:00.000Z'],
  ])('%s', (_, from, expected) => expect(toIso(openFrom(hours, at(from), 'America/Denver'))).toBe(expected));

  it('that never open hold nothing up for ever', () =>
    expect(openFrom({ ...hours, from: '10:00', to: '09:00' }, NOON, 'America/Denver')).toBe(NOON));
});

it('days are counted where the person lives', () => {
  expect(dayNumber(NOON, NOON, 'America/Denver')).toBe(1);
  expect(dayNumber(NOON, NOON + 13 * HOUR, 'America/Denver')).toBe(2);
  expect(dayNumber(NOON, NOON + 13 * HOUR, 'Pacific/Honolulu')).toBe(1);
  expect(anniversary('2000-02-29', 2028)).toBe('2028-02-29');
});
