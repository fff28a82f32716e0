import type { Reading, Scope } from '@/db/kit/scope';

/** Segments that were not counted on this day, the longest waiting first. */
export const segmentsToCount = (
  reading: Reading,
  untroubled: string,
  { day, at, most }: { day: string; at: Date; most: number },
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select s.id, s.workspace_id from segment s
      where not exists (select 1 from segment_count c where c.segment_id = s.id and c.day = :day::date) and ${untroubled} and :at::timestamptz is not null
      order by s.id limit :most`,
    { day, at, most },
  );

/** Null people: its condition asks for something that is gone. */
export async function keepCount(
  scope: Scope,
  count: { segmentId: string; day: string; version: number; people: number | null },
): Promise<void> {
  await scope.run(
    `insert into segment_count (workspace_id, segment_id, day, version, people)
     select :workspace, s.id, :day::date, :version, :people::int from segment s where s.workspace_id = :workspace and s.id = :segmentId
     on conflict (segment_id, day) do nothing`,
    count,
  );
  await scope.run(
    `delete from segment_count where workspace_id = :workspace and segment_id = :segmentId and day < :day::date - 60`,
    { segmentId: count.segmentId, day: count.day },
  );
}

/** What each segment counted a week ago, or up to a week before that; only while it asks the same as then. */
export async function countsAWeekAgo(scope: Scope, day: string): Promise<Map<string, number>> {
  const rows = await scope.rows<{ segment_id: string; people: number }>(
    `select distinct on (c.segment_id) c.segment_id, c.people from segment_count c join segment s on s.id = c.segment_id and s.version = c.version
      where c.workspace_id = :workspace and c.people is not null and c.day between :day::date - 14 and :day::date - 7 order by c.segment_id, c.day desc`,
    { day },
  );
  return new Map(rows.map((row) => [row.segment_id, row.people]));
}
