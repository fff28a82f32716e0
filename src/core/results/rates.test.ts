import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { broadcastResult, type BroadcastCounts } from './broadcast-result';
import { differ, mayBeJudged, wilson } from './rates';

describe('rates', () => {
  it.each([
    [3, 40, 0.0258, 0.1986],
    [0, 10, 0, 0.2775],
    [10, 10, 0.7225, 1],
    [500, 1000, 0.4691, 0.5309],
  ])('%d of %d lies between %d and %d', (count, of, low, high) => {
    const rate = wilson(count, of);
    expect(rate.low).toBeCloseTo(low, 3);
    expect(rate.high).toBeCloseTo(high, 3);
  });

  it('calls 3 of 40 against 5 of 41 no difference, and 30 of 1000 against 8 of 1000 one', () => {
    expect(differ(wilson(3, 40), wilson(5, 41))).toBe(false);
    expect(differ(wilson(30, 1000), wilson(8, 1000))).toBe(true);
    expect(differ(wilson(0, 0), wilson(8, 1000))).toBe(false);
  });

  it.each([
    [null, false],
    [23, false],
    [24, true],
  ])('holds a broadcast that ended %s hours ago against others: %s', (hours, judged) =>
    expect(mayBeJudged(hours === null ? null : 1e12 - hours * 3_600_000, 1e12)).toBe(judged),
  );

  it('keep the share inside its interval, and the interval inside nought to one', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 10_000 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (of, part) => {
          const { share, low, high } = wilson(Math.round(of * part), of);
          expect(low).toBeGreaterThanOrEqual(0);
          expect(high).toBeLessThanOrEqual(1);
          expect(share! - low).toBeGreaterThanOrEqual(-1e-9);
          expect(high - share!).toBeGreaterThanOrEqual(-1e-9);
        },
      ),
    );
  });

  it('of a broadcast are over delivered people, with what has no receipt apart', () => {
    const counts: BroadcastCounts = {
      queued: 1,
      sending: 2,
      submitted: 3,
      noReceipt: 7,
      clicks: 1,
      delivered: 80,
      failed: 20,
      unconfirmed: 4,
      blocked: 5,
      cancelled: 6,
      parts: 100,
      credits: 100,
      replies: 8,
      optOuts: 100,
      failures: [],
      blocks: [],
    };
    const result = broadcastResult(counts);
    expect(result).toMatchObject({
      people: 128,
      open: 3,
      deliveryRate: { count: 80, of: 100 },
      replyRate: { count: 8, of: 80 },
      optOutRate: { count: 80, of: 80 },
    });
  });
});
