import { describe, expect, it } from 'vitest';
import { SECOND } from '../shared/instant';
import { CONSEQUENCES, MOST_ATTEMPTS, retryAfter, type FailureReason } from './failure';

describe('failures', () => {
  it('are tried again only when the reason allows, later each time, and not for ever', () => {
    for (const reason of Object.keys(CONSEQUENCES) as FailureReason[])
      expect(retryAfter(reason, 1, 0) !== null).toBe(CONSEQUENCES[reason].retry !== false);
    const waits = [1, 2, 3, 4, 5].map((attempt) => retryAfter('throttled', attempt, 0)!);
    expect(waits).toEqual([SECOND, 4 * SECOND, 16 * SECOND, 64 * SECOND, 256 * SECOND]);
    expect(retryAfter('throttled', MOST_ATTEMPTS, 0)).toBeNull();
    expect(retryAfter('throttled', 1, 0.999)).toBeLessThanOrEqual(1.5 * SECOND);
  });
});
