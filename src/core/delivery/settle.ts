import type { Millis } from '../shared/instant';
import { RECEIPT_MARGIN, VALIDITY } from './failure';

/**
 * What is known about a text whose worker died between writing "submitting" and hearing the carrier's answer.
 * (A text whose *link* broke after its bytes went out stays unconfirmed until a receipt comes: see `lifecycle`.)
 */
export interface SilenceEvidence {
  at: Millis;
  /** When it was marked `submitting`. */
  since: Millis;
  /** Since when the link to the carrier has been up without a break; null: it is down. */
  linkUpSince: Millis | null;
  /** Receipts of other texts of the same carrier, taken around the same time: come and missing. */
  receiptsCome: number;
  receiptsMissing: number;
  /** Parts of this text the carrier told something about. */
  partsKnown: number;
}

export type Settlement = 'wait' | 'not-taken' | 'unconfirmed';

/** Receipts of neighbours needed before silence counts as an answer. */
const ENOUGH = 20;

/**
 * A carrier must send a final receipt for all it took once the validity is over, and keeps it until we
 * acknowledge it. So when the validity is over, the link was up, and every neighbour's receipt came, silence
 * proves that this text was not taken: it may be sent. If one neighbour's receipt is missing too, receipts
 * get lost here, silence proves nothing, and the text stays unconfirmed for a human: never twice on a guess.
 */
export function settleSilence(evidence: SilenceEvidence): Settlement {
  const { at, since, linkUpSince, receiptsCome, receiptsMissing, partsKnown } = evidence;
  if (at < since + VALIDITY + RECEIPT_MARGIN) return 'wait';
  if (linkUpSince === null || at - linkUpSince < RECEIPT_MARGIN) return 'wait';
  // One part was taken, another perhaps not: half a text twice is worse than half a text.
  if (partsKnown > 0) return 'unconfirmed';
  return receiptsMissing === 0 && receiptsCome >= ENOUGH ? 'not-taken' : 'unconfirmed';
}
