import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EVERY, nextReport } from './report';

const DENVER = 'America/Denver';
const next = (every: (typeof EVERY)[number], hour: number, after: string) =>
  new Date(nextReport(every, hour, Date.parse(after), DENVER)).toISOString();

describe('a report', () => {
  it.each([
    ['day', 7, '2026-11-24T13:00:00Z', '2026-11-24T14:00:00.000Z'],
    ['day', 7, '2026-11-24T14:00:00Z', '2026-11-25T14:00:00.000Z'],
    ['week', 7, '2026-11-24T14:00:00Z', '2026-11-30T14:00:00.000Z'],
    ['month', 7, '2026-11-24T14:00:00Z', '2026-12-01T14:00:00.000Z'],
    // Sunday evening in Denver is Monday in Greenwich.
    ['week', 0, '2026-11-23T03:00:00Z', '2026-11-23T07:00:00.000Z'],
    // Summer time ends on 1 November 2026.
    ['day', 7, '2026-10-31T14:00:00Z', '2026-11-01T14:00:00.000Z'],
    // In 2027 it begins on 14 March: at two there is three.
    ['day', 2, '2027-03-13T20:00:00Z', '2027-03-14T09:00:00.000Z'],
  ] as const)('sent every %s at %d, after %s, comes at %s', (every, hour, after, at) =>
    expect(next(every, hour, after)).toBe(at),
  );

  it('always comes later, and within a period and an hour', () => {
    const DAY = 86_400_000;
    const longest = { day: 1, week: 7, month: 31 };
    fc.assert(
      fc.property(
        fc.constantFrom(...EVERY),
        fc.integer({ min: 0, max: 23 }),
        fc.integer({ min: Date.UTC(2026, 0, 1), max: Date.UTC(2029, 0, 1) }),
        (every, hour, after) => {
          const at = nextReport(every, hour, after, DENVER);
          expect(at).toBeGreaterThan(after);
          expect(at - after).toBeLessThanOrEqual(longest[every] * DAY + 3_600_000);
        },
      ),
    );
  });
});
