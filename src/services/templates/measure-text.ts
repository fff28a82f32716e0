import { measure, splitParts, type Measure } from '@/core/text/measure';
import { offerSwaps, type SwapOffer } from '@/core/text/swaps';

/** Alphabet, units and parts of a text, and what it would save to swap look-alikes. */
export const measureText = (body: string): Measure & { split: string[]; swaps: SwapOffer | null } => ({
  ...measure(body),
  split: splitParts(body).parts,
  swaps: offerSwaps(body),
});
