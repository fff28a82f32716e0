import { OF_ERASED } from '@/db/kit/erasure';
import type { Scope } from '@/db/kit/scope';

/** A proof goes with its person; its hash stays, so that one that was given away can still be checked. */
export const RESULTS_ERASURES = [`update proof set document = null, person_id = null where ${OF_ERASED}`];

/** Proofs stand with whom somebody is now; gives which moved. */
export const moveProofs = async (scope: Scope, keptId: string, goneId: string): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `update proof set person_id = :keptId where workspace_id = :workspace and person_id = :goneId returning id`,
      { keptId, goneId },
    )
  ).map(({ id }) => id);

export const giveBackProofs = (scope: Scope, goneId: string, ids: readonly string[]): Promise<number> =>
  scope.run(
    `update proof set person_id = :goneId where workspace_id = :workspace and id = any(:ids::text[]) and document is not null`,
    { goneId, ids: [...ids] },
  );
