import { describe, expect, it } from 'vitest';
import { toIso } from '../shared/instant';
import { nextTimes, readRule, repeatFrom } from './repeat';

const start = '2026-12-05T10:00';
const zone = 'America/Denver';
const first = Date.parse('2026-12-05T17:00:00Z');
const next = (rule: string, most = 3, from = start) =>
  nextTimes({ rule, start: from, zone }, Date.parse(`${from}:00-07:00`), most).map(toIso);

describe('a rule', () => {
  it.each([
    ['FREQ=WEEKLY;BYDAY=SA', 'FREQ=WEEKLY;BYDAY=SA'],
    [' rrule:freq=monthly;byday=1sa ', 'FREQ=MONTHLY;BYDAY=1SA'],
    ['FREQ=SECONDLY', 'too-often'],
    ['FREQ=HOURLY;INTERVAL=2', 'too-often'],
    ['FREQ=DAILY;BYHOUR=9,10,11', 'too-often'],
    ['every week', 'unreadable'],
    ['FREQ=WEEKLY;BYDAY=XX', 'unreadable'],
    ['FREQ=WEEKLY;X=1', 'unreadable'],
    ['', 'unreadable'],
    [`FREQ=WEEKLY;BYDAY=${'SA,'.repeat(200)}SU`, 'unreadable'],
    ['FREQ=DAILY\nDTSTART:20200101T000000Z', 'unreadable'],
  ])('%j is read as %s', (typed, read) => {
    const rule = readRule(typed);
    expect(rule.ok ? rule.value : rule.reason).toBe(read);
  });

  it('keeps the time of day over the change of clocks', () =>
    expect(next('FREQ=WEEKLY', 1, '2027-03-13T10:00')).toEqual(['2027-03-20T16:00:00.000Z']));
  it('of an hour that is missing takes the one after it', () =>
    expect(next('FREQ=DAILY', 2, '2027-03-13T02:30')).toEqual([
      '2027-03-14T09:30:00.000Z',
      '2027-03-15T08:30:00.000Z',
    ]));
  it('ends after its count', () => expect(next('FREQ=WEEKLY;COUNT=3', 9)).toHaveLength(2));
  it('ends at its until', () => expect(next('FREQ=WEEKLY;UNTIL=20261220T000000Z', 9)).toHaveLength(2));
  it('without end has a next one for ever, and asking takes no longer', () =>
    expect(next('FREQ=DAILY', 50)).toHaveLength(50));
  it('on the first Saturday of the month', () =>
    expect(next('FREQ=MONTHLY;BYDAY=1SA', 2)).toEqual([
      '2027-01-02T17:00:00.000Z',
      '2027-02-06T17:00:00.000Z',
    ]));
  it('on the 31st leaves out months that have none', () =>
    expect(next('FREQ=MONTHLY', 2, '2026-12-31T10:00')).toEqual([
      '2027-01-31T17:00:00.000Z',
      '2027-03-31T16:00:00.000Z',
    ]));

  it.each([
    ['FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30', 'never'],
    ['FREQ=WEEKLY;COUNT=1', 'never'],
    ['FREQ=WEEKLY;UNTIL=20200101T000000Z', 'never'],
    ['FREQ=YEARLY', 'taken'],
  ])('%s is %s', (rule, what) => {
    const repeat = repeatFrom(rule, start, zone, first);
    expect(repeat.ok ? 'taken' : repeat.reason).toBe(what);
  });
});
