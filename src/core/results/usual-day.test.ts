import { describe, expect, it } from 'vitest';
import { partsBefore, usualOf } from './usual-day';

const ZONE = 'America/Denver';
const at = (text: string) => Date.parse(text);

describe('a usual such day', () => {
  it('is the same day of the week until the clock showed the same, also where it was turned since', () => {
    const parts = partsBefore(at('2026-11-05T17:30:00Z'), ZONE, at('2026-01-01T00:00:00Z'));
    expect(parts).toHaveLength(8);
    expect(parts[0]).toEqual({
      ...{ day: '2026-10-29', from: at('2026-10-29T06:00:00Z'), until: at('2026-10-29T16:30:00Z') },
    });
    expect(parts.at(-1)!.day).toBe('2026-09-10');
  });

  it('is not told of days before there was anything', () => {
    expect(partsBefore(at('2026-11-05T17:30:00Z'), ZONE, at('2026-10-15T12:00:00Z'))).toHaveLength(3);
    expect(usualOf([1, 2, 3])).toBeNull();
    expect(usualOf([0, 10, 4, 6])).toBe(5);
  });
});
