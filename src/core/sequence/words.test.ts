import { describe, expect, it } from 'vitest';
import type { Begin, When } from './document';
import { beginWords, daysOf, spanWords, weekdayWords, whenWords } from './words';
import { line, sequence, text } from './testing/stage';

const names = new Map([
  ['own.visit', 'Visit'],
  ['lab_a', 'walks'],
  ['prg_a', 'Clear Sky Alerts'],
  ['src_a', 'Night Sky Guide'],
]);

describe('words', () => {
  it.each([
    [5, '5 min'],
    [60, '1 h'],
    [90, '90 min'],
    [1_440, '1 day'],
    [2_880, '2 days'],
    [0, '0 min'],
  ])('%s minutes: %s', (minutes, words) => expect(spanWords(minutes)).toBe(words));
  it.each([
    [[2, 3, 4], 'Tue to Thu'],
    [[1, 5], 'Mon, Fri'],
    [[7], 'Sun'],
    [[1, 2], 'Mon, Tue'],
  ])('%j: %s', (days, words) => expect(weekdayWords(days)).toBe(words));
  it.each<[When, string]>([
    [{ at: 'once' }, 'at once'],
    [{ at: 'after', minutes: 60, from: 'before' }, '+1 h'],
    [{ at: 'day', day: 2, time: '09:40' }, 'day 2 09:40'],
    [{ at: 'date', field: 'own.visit', days: -3, yearly: false, time: '09:00' }, '3 days before Visit 09:00'],
    [{ at: 'until', act: 'reply', minutes: 2_880 }, 'until they reply, at most 2 days'],
  ])('%j: %s', (when, words) => expect(whenWords(when, names)).toBe(words));
  it.each<[Begin, string]>([
    [{ on: 'joined', program: 'prg_a', keyword: 'sky' }, 'joins Clear Sky Alerts by SKY'],
    [{ on: 'tag', label: 'lab_a' }, 'is tagged walks'],
    [{ on: 'tag', label: 'lab_x' }, 'is tagged something gone'],
    [{ on: 'inquiry' }, 'asks something'],
    [
      { on: 'inquiry', kind: 'school visit', source: 'src_a' },
      'asks something of the kind “school visit” through Night Sky Guide',
    ],
    [
      { on: 'date', field: 'own.visit', days: 1, yearly: true, time: '10:00' },
      '1 day after Visit, every year, 10:00',
    ],
  ])('%j: %s', (begins, words) => expect(beginWords(begins, names)).toBe(words));
});

it('every line has a day, in every column', () => {
  const doc = sequence([
    line('a', { at: 'once' }, text('A')),
    line(
      'f',
      { at: 'until', act: 'reply', minutes: 2 * 1_440 },
      {
        do: 'fork',
        columns: [
          {
            id: 'c',
            name: 'C',
            if: { test: 'else' },
            lines: [line('x', { at: 'after', minutes: 3 * 1_440, from: 'before' }, text('X'))],
            then: 'rejoin',
          },
        ],
      },
    ),
    line('b', { at: 'day', day: 40, time: '10:00' }, text('B')),
  ]);
  expect([...daysOf(doc)]).toEqual([
    ['a', 1],
    ['f', 3],
    ['b', 40],
    ['x', 6],
  ]);
});
