import type { Reading, Scope } from '@/db/kit/scope';

/** Sequences looked at in one round. */
const MOST = 200;

/**
 * Published sequences for which a day has begun, where the workspace is, that was not looked at: also those that begin by no
 * date or are ended, so that one which does from today on begins tomorrow.
 */
export const sequencesWithDates = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select s.id, s.workspace_id from sequence s join workspace w on w.id = s.workspace_id
      where s.version is not null and (s.dates_on is null or s.dates_on < (:at at time zone w.zone)::date) and ${untroubled}
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
