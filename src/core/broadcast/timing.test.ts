import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { HOUR, MINUTE, SECOND, toIso } from '../shared/instant';
import { everOpens, firstLocal, gapOf, isLocal, localInstant, meet, turnsNow, type Pace } from './timing';

const at = Date.parse('2026-12-05T17:00:00Z');

describe('the hour where each of them lives', () => {
  it.each([
    ['Denver', ['America/Denver'], '2026-12-05T10:00', '2026-12-05T17:00:00.000Z'],
    [
      'a number of two zones waits for both',
      ['America/New_York', 'America/Chicago'],
      '2026-12-05T10:00',
      '2026-12-05T16:00:00.000Z',
    ],
    [
      'an hour that is missing is the one after it',
      ['America/Denver'],
      '2027-03-14T02:30',
      '2027-03-14T09:30:00.000Z',
    ],
    [
      'of an hour that comes twice it is the first',
      ['America/Denver'],
      '2026-11-01T01:30',
      '2026-11-01T07:30:00.000Z',
    ],
    ['Arizona changes nothing', ['America/Phoenix'], '2027-03-14T02:30', '2027-03-14T09:30:00.000Z'],
  ])('%s', (_, zones, local, instant) => expect(toIso(localInstant(local, zones))).toBe(instant));

  it('begins where it is reached first', () =>
    expect(toIso(firstLocal('2026-12-05T10:00', ['America/Los_Angeles', 'America/New_York']))).toBe(
      '2026-12-05T15:00:00.000Z',
    ));

  it.each([
    ['2026-12-05T10:00', true],
    ['2026-02-30T10:00', false],
    ['2026-12-05T24:00', false],
    ['2026-12-05', false],
    ['2026-13-05T10:00', false],
    ['', false],
  ])('%s can be shown: %s', (local, can) => expect(isLocal(local)).toBe(can));
});

describe('what two windows allow', () => {
  const weekdays = { days: [1, 2, 3, 4, 5], from: '10:00', to: '18:00' };
  it('is what both do', () =>
    expect(meet(weekdays, { days: [5, 6], from: '09:00', to: '12:00' })).toEqual({
      days: [5],
      from: '10:00',
      to: '12:00',
    }));
  it('is the one where there is no other', () => {
    expect(meet(weekdays, null)).toBe(weekdays);
    expect(meet(null, weekdays)).toBe(weekdays);
    expect(meet(null, null)).toBeNull();
  });
  it.each([
    [{ days: [6], from: '10:00', to: '18:00' }, false],
    [{ days: [1], from: '18:00', to: '20:00' }, false],
    [{ days: [1], from: '17:00', to: '20:00' }, true],
  ])('%j with weekdays ever opens: %s', (other, opens) =>
    expect(everOpens(meet(weekdays, other)!)).toBe(opens),
  );
});

describe('turns', () => {
  const hourly: Pace = { people: 20, per: 'hour' };
  it('the first has it at once, the next after the gap', () => {
    expect(turnsNow(hourly, 100, null, at)).toEqual({
      ...{ people: 1, next: at + 3 * MINUTE, gap: 3 * MINUTE },
    });
    expect(turnsNow(hourly, 99, at + 3 * MINUTE, at + MINUTE)).toMatchObject({
      ...{ people: 0, next: at + 3 * MINUTE },
    });
  });
  it('an hour in which nobody looked is not made up', () =>
    expect(turnsNow(hourly, 99, at, at + HOUR).people).toBe(1));
  it('half a second in which nobody looked is', () =>
    expect(turnsNow({ people: 600, per: 'minute' }, 999, at, at + 500).people).toBe(6));
  it('evenly until an instant', () => {
    expect(gapOf({ until: at + HOUR }, 60, at)).toBe(MINUTE);
    expect(turnsNow({ until: at }, 60, null, at).people).toBe(60);
  });
  it('never more than the pace over any time', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 5_000 }),
        fc.array(fc.integer({ min: 1, max: 20 * SECOND }), { minLength: 1, maxLength: 60 }),
        (people, pauses) => {
          const pace: Pace = { people, per: 'minute' };
          let now = at;
          let next: number | null = null;
          const given: { at: number; people: number }[] = [];
          for (const pause of pauses) {
            now += pause;
            const turns = turnsNow(pace, 1e9, next, now);
            next = turns.next;
            given.push({ at: now, people: turns.people });
          }
          for (const [i, from] of given.entries()) {
            let sum = 0;
            for (const one of given.slice(i)) {
              sum += one.people;
              expect(sum).toBeLessThanOrEqual(((one.at - from.at + 2 * SECOND) / MINUTE) * people + 1.000001);
            }
          }
        },
      ),
    ));
  it('everybody has theirs by the instant it is spread until', () => {
    let [now, next, waiting] = [at, null as number | null, 137];
    while (now <= at + HOUR) {
      const turns = turnsNow({ until: at + HOUR }, waiting, next, now);
      [next, waiting, now] = [turns.next, waiting - turns.people, now + 500];
    }
    expect(waiting).toBe(0);
  });
});
