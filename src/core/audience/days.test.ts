import { describe, expect, it } from 'vitest';
import { dayOf, isDay, monthDays, startOf } from './days';

const DENVER = 'America/Denver';

describe('days', () => {
  it.each([
    ['2026-02-28', true],
    ['2026-02-29', false],
    ['2028-02-29', true],
    ['1900-02-29', false],
    ['2000-02-29', true],
    ['2026-02-31', false],
    ['2026-13-01', false],
    ['2026-00-10', false],
    ['2026-1-1', false],
    ['26-01-01', false],
    ['', false],
  ])('%s exists: %s', (day, exists) => expect(isDay(day)).toBe(exists));

  it('begin where the workspace is, also when the clocks change', () => {
    expect(dayOf(Date.UTC(2026, 10, 25, 6, 59), DENVER)).toBe('2026-11-24');
    expect(dayOf(Date.UTC(2026, 10, 25, 7, 0), DENVER)).toBe('2026-11-25');
    expect(startOf('2026-11-01', DENVER)).toBe(Date.UTC(2026, 10, 1, 6));
    expect(startOf('2026-11-02', DENVER)).toBe(Date.UTC(2026, 10, 2, 7));
    // In Santiago clocks go forward at midnight: the day begins at one.
    expect(dayOf(startOf('2026-09-06', 'America/Santiago'), 'America/Santiago')).toBe('2026-09-06');
  });

  it('of the year go over the new year, and leave nobody born on 29 February out', () => {
    expect(monthDays('2026-12-30', 3)).toEqual(['12-30', '12-31', '01-01', '01-02']);
    expect(monthDays('2026-02-28', 0)).toEqual(['02-28', '02-29']);
    expect(monthDays('2028-02-28', 1)).toEqual(['02-28', '02-29']);
    expect(monthDays('2028-02-28', 0)).toEqual(['02-28']);
    expect(monthDays('2026-05-01', 5_000)).toHaveLength(366);
  });
});
