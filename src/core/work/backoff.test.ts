import { describe, expect, it } from 'vitest';
import { pauseAfter } from './backoff';

describe('a row that cannot be worked on', () => {
  it('is tried again after growing pauses, then no more', () => {
    const pauses = Array.from({ length: 8 }, (_, i) => pauseAfter(i + 1));
    expect(pauses.every((pause, i) => pause !== null && (i === 0 || pause > pauses[i - 1]!))).toBe(true);
    expect(pauseAfter(9)).toBeNull();
  });
});
