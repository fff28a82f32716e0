import { describe, expect, it } from 'vitest';
import { anniversariesOn } from './dates';

describe('the days that come round', () => {
  it.each([
    ['2026-11-25', ['11-25']],
    ['2026-02-28', ['02-28', '02-29']],
    ['2028-02-28', ['02-28']],
    ['2028-02-29', ['02-29']],
    ['2100-02-28', ['02-28', '02-29']],
    ['2000-02-28', ['02-28']],
  ])('on %s are %j', (day, days) => {
    expect(anniversariesOn(day)).toEqual(days);
  });
});
