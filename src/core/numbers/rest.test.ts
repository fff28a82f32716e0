import { describe, expect, it } from 'vitest';
import { DAY, HOUR } from '../shared/instant';
import { capWhile, isBack, restUntil, silentWithout, type Restable } from './rest';

const one = (id: string, more: Partial<Restable> = {}): Restable => ({
  ...{ id, state: 'well', registered: true, resting: false },
  ...more,
});

describe('a number that is unwell', () => {
  it('rests only where every program of it has another that is registered, awake and not unwell', () => {
    const sick = one('a', { state: 'unwell' });
    expect(silentWithout('a', [[sick, one('b')]])).toBe(-1);
    expect(silentWithout('a', [[sick, one('b')], [sick]])).toBe(1);
    for (const other of [{ registered: false }, { resting: true }, { state: 'unwell' as const }])
      expect(silentWithout('a', [[sick, one('b', other)]]), JSON.stringify(other)).toBe(0);
    expect(silentWithout('a', [])).toBe(-1);
  });

  it('rests a week, twice as long each time again, and never more than four weeks', () => {
    expect([0, 1, 2, 3, 90].map((rests) => restUntil(0, rests) / DAY)).toEqual([7, 14, 28, 28, 28]);
  });

  it('comes back by the day, within its own cap, until it carries what it used to', () => {
    const back = { backAt: 0, usual: 1_600 };
    const caps = [0, 1, 2, 3, 4].map((day) => capWhile({ ...back, cap: null }, day * DAY + HOUR));
    expect(caps).toEqual([100, 200, 400, 800, 1_600]);
    expect(capWhile({ ...back, cap: 300 }, 4 * DAY)).toBe(300);
    expect([3, 4].map((day) => isBack(back, day * DAY))).toEqual([false, true]);
    expect(capWhile({ backAt: 0, usual: 0, cap: null }, 0)).toBe(25);
    expect(isBack({ backAt: 0, usual: 0 }, HOUR)).toBe(false);
    expect(isBack({ backAt: 0, usual: 0 }, DAY)).toBe(true);
  });
});
