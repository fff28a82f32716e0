import { describe, expect, it, vi } from 'vitest';
import { remember } from './remember';

describe('work that is remembered', () => {
  it('is done once for each text', () => {
    const work = vi.fn((text: string) => text.length);
    const length = remember(10, work);
    expect(['tar', 'sky', 'tar', 'sky', 'night'].map(length)).toEqual([3, 3, 3, 3, 5]);
    expect(work).toHaveBeenCalledTimes(3);
  });

  it('remembers that there is nothing', () => {
    const work = vi.fn(() => undefined);
    const nothing = remember(10, work);
    nothing('tar');
    nothing('tar');
    expect(work).toHaveBeenCalledTimes(1);
  });

  it('keeps no more than it may, and answers the same after it forgot', () => {
    const work = vi.fn((text: string) => text.toUpperCase());
    const upper = remember(2, work);
    expect(['a', 'b', 'c', 'a'].map(upper)).toEqual(['A', 'B', 'C', 'A']);
    expect(work).toHaveBeenCalledTimes(4);
  });
});
