import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { assign, NO_ASSIGNMENT, type Asked, type AssignmentRule, type Candidate } from './assign';
import { isDutyHours, isOnDuty, nextOnDuty } from './on-duty';

const ZONE = 'America/Denver';
/** Tuesday, 24 November 2026, 10:00 in the mountains. */
const AT = Date.parse('2026-11-24T17:00:00Z');
const HOUR = 3_600_000;
const weekdays = [1, 2, 3, 4, 5].map((day) => ({ day, from: '09:00', to: '17:00' }));
const who = (id: string, more: Partial<Candidate> = {}): Candidate => ({
  ...{ id, hours: [], awayUntil: null, open: 0 },
  ...more,
});
const asked = (more: Partial<Asked> = {}): Asked => ({
  ...{ kind: 'school visit', ownerId: null, lastId: null, zone: ZONE, at: AT },
  ...more,
});
const rule = (more: Partial<AssignmentRule> = {}): AssignmentRule => ({
  ...NO_ASSIGNMENT,
  ...{ among: ['a', 'b', 'c'] },
  ...more,
});
const ALL = [who('a'), who('b'), who('c')];

describe('an inquiry is given', () => {
  it.each<[string, AssignmentRule, Candidate[], Asked, string | null, string]>([
    ['to whom the person belongs', rule(), ALL, asked({ ownerId: 'c' }), 'c', 'theirs'],
    ['on, when that is not wanted', rule({ keepsOwner: false }), ALL, asked({ ownerId: 'c' }), 'a', 'turn'],
    ['on, when they are gone', rule(), ALL, asked({ ownerId: 'x' }), 'a', 'turn'],
    [
      'on, while they are away',
      rule(),
      [who('a'), who('b'), who('c', { awayUntil: AT + HOUR })],
      asked({ ownerId: 'c' }),
      'a',
      'turn',
    ],
    ['by kind', rule({ kinds: { 'school visit': 'b' } }), ALL, asked(), 'b', 'kind'],
    ['in turn', rule(), ALL, asked({ lastId: 'b' }), 'c', 'turn'],
    ['in turn, from the beginning', rule(), ALL, asked({ lastId: 'c' }), 'a', 'turn'],
    [
      'by load',
      rule({ by: 'load' }),
      [who('a', { open: 3 }), who('b', { open: 1 }), who('c', { open: 2 })],
      asked(),
      'b',
      'load',
    ],
    [
      'to who is on',
      rule(),
      [
        who('a', { hours: [{ day: 3, from: '09:00', to: '17:00' }] }),
        who('b', { hours: weekdays }),
        who('c'),
      ],
      asked({ lastId: 'c' }),
      'b',
      'turn',
    ],
    [
      'to who is on next, when nobody is',
      rule(),
      [
        who('a', { hours: [{ day: 3, from: '09:00', to: '17:00' }] }),
        who('b', { hours: [{ day: 2, from: '14:00', to: '15:00' }] }),
      ],
      asked(),
      'b',
      'next-on',
    ],
    ['to nobody, where nobody is chosen', rule({ among: [] }), ALL, asked(), null, 'nobody'],
  ])('%s', (_, one, candidates, what, accountId, because) => {
    expect(assign(one, candidates, what)).toEqual({ accountId, because });
  });

  it('always to somebody who is there, if anybody of those chosen is', () => {
    const candidate = fc.record({
      id: fc.constantFrom('a', 'b', 'c', 'd'),
      hours: fc.subarray(weekdays),
      awayUntil: fc.option(fc.integer({ min: AT - 9 * HOUR, max: AT + 900 * HOUR })),
      open: fc.nat(9),
    });
    fc.assert(
      fc.property(
        fc.uniqueArray(candidate, { selector: ({ id }) => id }),
        fc.constantFrom<'turn' | 'load'>('turn', 'load'),
        fc.boolean(),
        fc.constantFrom(null, 'a', 'd', 'x'),
        (candidates, by, onlyOnDuty, lastId) => {
          const one = rule({ by, onlyOnDuty });
          const { accountId } = assign(one, candidates, asked({ lastId }));
          const there = candidates.filter(({ id }) => one.among.includes(id));
          expect(accountId === null).toBe(there.length === 0);
          const on = there.filter((each) => isOnDuty(each, ZONE, AT));
          if (onlyOnDuty && on.length > 0) expect(on.map(({ id }) => id)).toContain(accountId);
        },
      ),
    );
  });

  it('evenly in turn', () => {
    let lastId: string | null = null;
    const counts = { a: 0, b: 0, c: 0 };
    for (let i = 0; i < 30; i += 1) {
      lastId = assign(rule(), ALL, asked({ lastId })).accountId;
      counts[lastId as 'a'] += 1;
    }
    expect(counts).toEqual({ a: 10, b: 10, c: 10 });
  });
});

describe('hours of a teammate', () => {
  it('are those of the workspace’s clocks', () => {
    const duty = { hours: weekdays, awayUntil: null };
    expect(isOnDuty(duty, ZONE, AT)).toBe(true);
    expect(isOnDuty(duty, 'Asia/Tokyo', AT)).toBe(false);
    expect(isOnDuty(duty, ZONE, Date.parse('2026-11-28T17:00:00Z'))).toBe(false);
  });

  it('begin again on the next day that has some, after clocks changed too', () => {
    const friday = Date.parse('2027-03-12T01:00:00Z');
    expect(nextOnDuty({ hours: weekdays, awayUntil: null }, ZONE, friday)).toBe(
      Date.parse('2027-03-12T16:00:00Z'),
    );
    const saturday = Date.parse('2027-03-13T20:00:00Z');
    expect(nextOnDuty({ hours: weekdays, awayUntil: null }, ZONE, saturday)).toBe(
      Date.parse('2027-03-15T15:00:00Z'),
    );
    expect(nextOnDuty({ hours: [], awayUntil: AT + HOUR }, ZONE, AT)).toBe(AT + HOUR);
  });

  it('are hours', () => {
    expect(isDutyHours({ day: 1, from: '09:00', to: '24:00' })).toBe(true);
    for (const wrong of [
      { day: 0, from: '09:00', to: '10:00' },
      { day: 1, from: '10:00', to: '09:00' },
      { day: 1, from: '9:00', to: '10:00' },
      { day: 1, from: '09:00', to: '25:00' },
    ])
      expect(isDutyHours(wrong)).toBe(false);
  });
});
