import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeId } from './ids';
import { parseInstant, toIso } from './instant';

describe('ids and instants', () => {
  it('sort by time and are never the same', () => {
    const bytes = fc.uint8Array({ minLength: 11, maxLength: 11 });
    fc.assert(
      fc.property(fc.nat({ max: 4e12 }), fc.nat({ max: 4e12 }), bytes, bytes, (a, b, one, two) => {
        if (a < b) expect(makeId('txt', a, one) < makeId('txt', b, two)).toBe(true);
        expect(makeId('txt', a, one)).toMatch(/^txt_[0-9a-z]{20}$/);
      }),
    );
  });

  it.each([
    '2026-11-24T10:10:00Z',
    '2026-11-24T10:10:00-07:00',
    '2026-11-24T10:10Z',
    '2026-11-24T10:10:00.250+0100',
  ])('reads %s', (text) => expect(parseInstant(text)).toBe(Date.parse(text)));
  it.each(['', 'now', '2026-11-24', '2026-11-24T10:10:00', '2026-13-24T10:10:00Z', '24.11.2026 10:10'])(
    'refuses %j',
    (text) => expect(parseInstant(text)).toBeNull(),
  );
  it('reads back what it writes', () =>
    expect(parseInstant(toIso(1_764_000_000_123))).toBe(1_764_000_000_123));
});
