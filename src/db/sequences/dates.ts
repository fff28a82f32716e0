import type { Reading, Scope } from '@/db/kit/scope';

/** Sequences looked at in one round. */
const MOST = 200;

/** Sequences that begin by a date and for which a day has begun, where the workspace is, that was not looked at. */
export const sequencesWithDates = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select s.id, s.workspace_id from sequence s join workspace w on w.id = s.workspace_id
        join sequence_version v on v.sequence_id = s.id and v.version = s.version
      where s.state in ('running', 'paused') and (s.dates_on is null or s.dates_on < (:at at time zone w.zone)::date)
        and v.document -> 'begins' @> '[{"on": "date"}]' and ${untroubled}
      order by s.dates_on nulls first, s.id limit ${MOST}`,
    { at },
  );

/** Notes that a day was looked at for a sequence, or for all of them; false: it was already, by another process. */
export const lookAtDates = async (scope: Scope, day: string, sequenceId: string | null): Promise<boolean> =>
  (await scope.run(
    `update sequence set dates_on = :day::date where workspace_id = :workspace and (:sequenceId::text is null or id = :sequenceId)
        and (dates_on is null or dates_on < :day::date)`,
    { day, sequenceId },
  )) > 0;
