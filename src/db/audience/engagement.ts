import type { Scope } from '@/db/kit/scope';

/** What somebody did goes along when they are merged. */
export const moveEngagement = (scope: Scope, keptId: string, goneId: string): Promise<number> =>
  scope.run(
    `update engagement set person_id = :keptId where workspace_id = :workspace and person_id = :goneId`,
    { keptId, goneId },
  );
