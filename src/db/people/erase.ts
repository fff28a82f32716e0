import type { Scope } from '@/db/kit/scope';
import { OF_ERASED } from '@/db/kit/erasure';

/** People that were merged into these. */
export async function mergedInto(scope: Scope, ids: readonly string[]): Promise<string[]> {
  const rows = await scope.rows<{ id: string }>(
    `select id from person where workspace_id = :workspace and merged_into = any(:ids::text[])`,
    { ids },
  );
  return rows.map((row) => row.id);
}

/** What the room keeps about somebody beside their row. */
export const PEOPLE_ERASURES = [
  `delete from address where ${OF_ERASED}`,
  `delete from happening where ${OF_ERASED}`,
  `delete from person_label where ${OF_ERASED}`,
  `delete from merge where workspace_id = :workspace and (kept_id = any(:ids::text[]) or gone_id = any(:ids::text[]))`,
  `delete from duplicate_pair where workspace_id = :workspace and (one_id = any(:ids::text[]) or other_id = any(:ids::text[]))`,
];

/** Everything the row itself says of who somebody is. */
export const erasePersonRows = (scope: Scope, ids: readonly string[], at: Date): Promise<number> =>
  scope.run(
    `update person set first_name = null, last_name = null, region = null, postal_code = null, zone = null,
            fields = '{}', source = 'erased', stage_id = null, owner_id = null, place_region = null, place_zones = null,
            unclear_since = null, paused_until = null, asked = null, waiting_since = null, last_wrote_at = null, erased_at = :at
      where workspace_id = :workspace and id = any(:ids::text[]) and erased_at is null`,
    { ids, at },
  );
