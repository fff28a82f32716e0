import { interpret, type Interpretation } from '@/core/reply/interpret';
import type { Scope } from '@/db/kit/scope';
import { KeywordRow } from '@/db/programs/entities';

/** How a reply would be understood, with the workspace's keywords. Writes nothing. */
export async function interpretText(scope: Scope, body: string): Promise<Interpretation> {
  const keywords = await scope.em.find(KeywordRow, {});
  return interpret(body, { keywords: keywords.map(({ word }) => word), questionPending: false });
}
