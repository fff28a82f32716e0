import { describe, expect, it } from 'vitest';
import { toIso } from '../shared/instant';
import { daysLater, overPromise, weeksFrom } from './calendar';

describe('the calendar of sends', () => {
  it('begins on the Monday of the week, in the zone of the workspace', () => {
    // Sunday evening in Denver, Monday already in UTC.
    const [week, next] = weeksFrom('America/Denver', Date.parse('2026-11-30T03:00:00Z'), 2);
    expect(week!.days.map(({ date }) => date)).toEqual([
      ...['2026-11-23', '2026-11-24', '2026-11-25', '2026-11-26', '2026-11-27', '2026-11-28', '2026-11-29'],
    ]);
    expect(toIso(week!.from)).toBe('2026-11-23T07:00:00.000Z');
    expect(week!.to).toBe(next!.from);
  });
  it('has a week of 169 hours when clocks go back', () => {
    const [week] = weeksFrom('America/Denver', Date.parse('2026-10-28T12:00:00Z'), 1);
    expect((week!.to - week!.from) / 3_600_000).toBe(169);
  });
  it.each([
    ['2026-11-24T17:00:00Z', 1, '2026-11-25T17:00:00.000Z'],
    ['2026-10-31T16:00:00Z', 1, '2026-11-01T17:00:00.000Z'],
    ['2026-11-24T17:00:00Z', -7, '2026-11-17T17:00:00.000Z'],
    ['2026-11-24T17:00:32.848Z', 7, '2026-12-01T17:00:32.848Z'],
    ['2026-11-01T08:30:00Z', 1, '2026-11-02T08:30:00.000Z'],
    ['2027-03-13T09:30:00Z', 1, '2027-03-14T09:30:00.000Z'],
  ])('%s moved by %d days is %s', (at, days, moved) =>
    expect(toIso(daysLater('America/Denver', Date.parse(at), days))).toBe(moved),
  );
  it('says what is beyond a promise', () => {
    const use = { program: 'p', promised: 4, period: 'month' as const };
    expect(overPromise({ ...use, sent: 3, planned: 1 })).toBe(0);
    expect(overPromise({ ...use, sent: 3, planned: 3 })).toBe(2);
    expect(overPromise({ ...use, sent: 6, planned: 1 })).toBe(1);
    expect(overPromise({ ...use, sent: 6, planned: 0 })).toBe(0);
  });
});
