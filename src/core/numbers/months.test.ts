import { expect, it } from 'vitest';
import { nextMonthOf } from './months';

const at = (text: string) => Date.parse(text);
const next = (began: string, after: string) =>
  new Date(nextMonthOf(at(began), at(after), 'America/Denver')).toISOString();

it('a month ends on the day it began, or on the last there is, at the same hour of the clock', () => {
  const began = '2026-01-31T18:00:00Z';
  expect(next(began, began)).toBe('2026-02-28T18:00:00.000Z');
  expect(next(began, '2026-02-28T18:00:00Z')).toBe('2026-03-31T17:00:00.000Z');
  expect(next(began, '2027-01-30T00:00:00Z')).toBe('2027-01-31T18:00:00.000Z');
});
