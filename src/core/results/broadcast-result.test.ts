import { describe, expect, it } from 'vitest';
import { broadcastResult, type BroadcastCounts } from './broadcast-result';

const counts = (more: Partial<BroadcastCounts> = {}): BroadcastCounts => ({
  queued: 1,
  sending: 2,
  submitted: 3,
  noReceipt: 7,
  delivered: 80,
  failed: 20,
  unconfirmed: 4,
  blocked: 5,
  cancelled: 6,
  parts: 0,
  credits: 0,
  replies: 8,
  clicks: 4,
  optOuts: 2,
  failures: [],
  blocks: [],
  ...more,
});

describe('the result of a broadcast', () => {
  it('counts everybody once, and as open only what may still leave', () => {
    const result = broadcastResult(counts());
    expect([result.people, result.open]).toEqual([128, 3]);
  });

  it('measures delivery over what has a receipt, and what people did over what reached them', () => {
    const { deliveryRate, replyRate, clickRate, optOutRate } = broadcastResult(counts());
    expect([deliveryRate, replyRate, clickRate, optOutRate].map((rate) => rate.share)).toEqual([
      0.8, 0.1, 0.05, 0.025,
    ]);
  });

  it('is never more than all, though a reply came from somebody whose receipt is missing', () =>
    expect(broadcastResult(counts({ delivered: 2, replies: 5 })).replyRate.share).toBe(1));

  it('has no rate where nothing came back yet', () =>
    expect(broadcastResult(counts({ delivered: 0, failed: 0 })).deliveryRate.share).toBeNull());
});
