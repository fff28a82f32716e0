import type { FailureReason } from '../delivery/failure';
import type { ReasonCode } from '../clearance/reasons';
import { wilson, type Rate } from './rates';

/** Counts of a broadcast's texts as the database gives them. */
export interface BroadcastCounts {
  queued: number;
  sending: number;
  /** Taken by the carrier, no receipt yet. */
  submitted: number;
  /** Taken by the carrier, and no receipt came in time. */
  noReceipt: number;
  delivered: number;
  failed: number;
  unconfirmed: number;
  blocked: number;
  cancelled: number;
  parts: number;
  credits: number;
  replies: number;
  /** People who followed a link; only of channels whose links lead by us. */
  clicks: number;
  optOuts: number;
  failures: { reason: FailureReason; count: number }[];
  blocks: { reason: ReasonCode; count: number }[];
}

export interface BroadcastResult extends BroadcastCounts {
  people: number;
  /** Still on the way: waiting, held or being sent. */
  open: number;
  /** delivered / (delivered + failed); what has no receipt yet stands apart. */
  deliveryRate: Rate;
  /** Over delivered people. */
  replyRate: Rate;
  clickRate: Rate;
  optOutRate: Rate;
}

export function broadcastResult(counts: BroadcastCounts): BroadcastResult {
  const { queued, sending, submitted, noReceipt, delivered, failed, unconfirmed, blocked, cancelled } =
    counts;
  return {
    ...counts,
    people: queued + sending + submitted + noReceipt + delivered + failed + unconfirmed + blocked + cancelled,
    open: queued + sending,
    deliveryRate: wilson(delivered, delivered + failed),
    // A reply can come from somebody whose receipt is missing: never more than all.
    replyRate: wilson(Math.min(counts.replies, delivered), delivered),
    clickRate: wilson(Math.min(counts.clicks, delivered), delivered),
    optOutRate: wilson(Math.min(counts.optOuts, delivered), delivered),
  };
}
