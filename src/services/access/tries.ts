import { MINUTE } from '@/core/shared/instant';
import type { Crossing } from '@/db/kit/scope';

/** Tries at a door are counted for so long. */
const WINDOW = 15 * MINUTE;

/** Counts a try against every key, before it is looked at; how many each has in the window. The machine's clock counts. */
export async function countTries(
  crossing: Crossing,
  keys: readonly string[],
): Promise<ReadonlyMap<string, number>> {
  const rows = await crossing.rows<{ key: string; tries: number }>(
    `insert into sign_in_try (key, tries, since) select k, 1, now() from unnest(:keys::text[]) as k order by k
     on conflict (key) do update set
       tries = case when sign_in_try.since < :before then 1 else sign_in_try.tries + 1 end,
       since = case when sign_in_try.since < :before then now() else sign_in_try.since end
     returning key, tries`,
    { keys, before: new Date(Date.now() - WINDOW) },
  );
  return new Map(rows.map(({ key, tries }) => [key, tries]));
}
