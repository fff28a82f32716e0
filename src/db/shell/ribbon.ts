import type { Scope } from '@/db/kit/scope';
import { TEXTS_BY_PROGRAM } from '@/db/delivery/texts';

export interface HourRow {
  hour: Date;
  left: number;
  came: number;
  stopped: number;
}

/** What left and what came back, hour by hour. */
export const hoursPast = (scope: Scope, from: Date, to: Date): Promise<HourRow[]> =>
  scope.rows<HourRow>(
    `select hour, sum(sent)::int as left, sum(came)::int as came, sum(stopped)::int as stopped from (
       select date_trunc('hour', t.submitted_at) as hour, count(*) as sent, 0 as came, 0 as stopped from ${TEXTS_BY_PROGRAM}
        where g.workspace_id = :workspace and t.submitted_at >= :from and t.submitted_at < :to group by 1
       union all
       select date_trunc('hour', at), 0, count(*) filter (where meaning <> 'opt-out'), count(*) filter (where meaning = 'opt-out') from inbound_text
        where workspace_id = :workspace and at >= :from and at < :to group by 1) h group by hour order by hour`,
    { from, to },
  );

export interface ComingRow {
  hour: Date;
  texts: number;
  lines: number;
}

/** Texts that wait for their hour, and lines of sequences that fall due. */
export const hoursAhead = (scope: Scope, from: Date, to: Date): Promise<ComingRow[]> =>
  scope.rows<ComingRow>(
    `select hour, sum(texts)::int as texts, sum(lines)::int as lines from (
       select date_trunc('hour', greatest(not_before, :from)) as hour, count(*) as texts, 0 as lines from message
        where workspace_id = :workspace and not_before < :to group by 1
       union all
       select date_trunc('hour', greatest(look_at, :from)), 0, count(*) from enrolment
        where workspace_id = :workspace and state = 'waiting' and look_at < :to group by 1) h group by hour order by hour`,
    { from, to },
  );
