import { interpret, type Interpretation } from '@/core/reply/interpret';
import { measure, splitParts, type Measure } from '@/core/text/measure';
import { offerSwaps, type SwapOffer } from '@/core/text/swaps';
import { KeywordRow } from '@/db/entities';
import type { Scope } from '@/db/kit/scope';

/** Two questions anybody can ask the engines about a text. Neither writes anything. */

export const measureText = (body: string): Measure & { split: string[]; swaps: SwapOffer | null } => ({
  ...measure(body),
  split: splitParts(body).parts,
  swaps: offerSwaps(body),
});

/** How a reply would be understood, with the workspace's keywords. */
export async function interpretText(scope: Scope, body: string): Promise<Interpretation> {
  const keywords = await scope.em.find(KeywordRow, {});
  return interpret(body, { keywords: keywords.map(({ word }) => word), questionPending: false });
}
