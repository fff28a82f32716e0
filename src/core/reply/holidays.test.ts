import { expect, it } from 'vitest';
import { DAY } from '../shared/instant';
import { easter, HOLIDAYS } from './holidays';

const date = (day: number) => new Date(day * DAY).toISOString().slice(0, 10);

it('Easter is when the tables say', () => {
  // Source: the table of Easter dates of the U.S. Census Bureau, the earliest and the latest of the century among them.
  const told = [
    '2000-04-23',
    '2008-03-23',
    '2011-04-24',
    '2024-03-31',
    '2026-04-05',
    '2027-03-28',
    '2038-04-25',
  ];
  expect(told.map((day) => date(easter(Number(day.slice(0, 4)))))).toEqual(told);
});

it('holidays of a weekday are on theirs', () => {
  const on = (name: RegExp, year: number) => date(HOLIDAYS.find(([names]) => name.test(names))![1](year));
  expect([
    on(/thanks/, 2026),
    on(/memorial/, 2027),
    on(/labou/, 2026),
    on(/mlk/, 2027),
    on(/presidents/, 2027),
    on(/mothers/, 2026),
    on(/fathers/, 2026),
  ]).toEqual([
    ...['2026-11-26', '2027-05-31', '2026-09-07', '2027-01-18', '2027-02-15', '2026-05-10', '2026-06-21'],
  ]);
});
