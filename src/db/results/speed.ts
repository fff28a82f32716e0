import type { Scope } from '@/db/kit/scope';
import type { Instants } from './works';

export interface DelayRow {
  kind: string;
  /** How many of the limits were passed: 0 is the shortest delay. */
  step: number;
  n: number;
}

/** How long after a message of each kind its first answer came, in steps of some seconds. */
export const answerDelays = (
  scope: Scope,
  { from, until }: Instants,
  limits: readonly number[],
): Promise<DelayRow[]> =>
  scope.rows<DelayRow>(
    `select m.kind, width_bucket(extract(epoch from i.at - m.submitted_at)::float8, :limits::float8[])::int as step, count(*)::int as n
       from inbound_text i join message m on m.id = i.after_text_id
      where i.workspace_id = :workspace and i.answers and i.at >= :from and i.at < :until and m.submitted_at is not null group by 1, 2`,
    { from, until, limits },
  );

export interface AnsweredRow {
  key: string | null;
  name: string | null;
  answered: number;
  median: number;
  p95: number;
}

const OVER = `count(*)::int as answered, (percentile_cont(0.5) within group (order by took))::float8 as median,
  (percentile_cont(0.95) within group (order by took))::float8 as p95`;

/** Within how many milliseconds people who wrote were answered, by who answered. Key null: by rule or by key. */
export const answeredBy = (scope: Scope, { from, until }: Instants): Promise<AnsweredRow[]> =>
  scope.rows<AnsweredRow>(
    `select t.account_id as key, a.name, ${OVER} from (
       select account_id, extract(epoch from ended_at - since) * 1000 as took from thread_turn
        where workspace_id = :workspace and ended_at >= :from and ended_at < :until and how = 'answered') t
       left join account a on a.id = t.account_id group by 1, 2 order by 3 desc`,
    { from, until },
  );

/** The same by the hour of the day at which they wrote, in the workspace's zone. */
export const answeredAt = (
  scope: Scope,
  { from, until }: Instants,
): Promise<(AnsweredRow & { hour: number })[]> =>
  scope.rows(
    `select hour, hour::text as key, null as name, ${OVER} from (
       select extract(hour from t.since at time zone w.zone)::int as hour, extract(epoch from t.ended_at - t.since) * 1000 as took
         from thread_turn t join workspace w on w.id = t.workspace_id
        where t.workspace_id = :workspace and t.ended_at >= :from and t.ended_at < :until and t.how = 'answered') t group by 1 order by 1`,
    { from, until },
  );

/** Within how many milliseconds inquiries were answered: by the carrier's taking the first message that answers one. */
export const inquiriesAnswered = (scope: Scope, { from, until }: Instants): Promise<AnsweredRow[]> =>
  scope.rows<AnsweredRow>(
    `select s.id as key, s.name, ${OVER} from (
       select q.source_id, extract(epoch from min(m.submitted_at) - q.at) * 1000 as took
         from inquiry q join message m on m.workspace_id = q.workspace_id and m.person_id = q.person_id and m.created_at >= q.at and m.created_at < q.at + interval '7 days'
          and m.submitted_at is not null
        where q.workspace_id = :workspace and q.at >= :from and q.at < :until group by q.id, q.source_id, q.at) t
       join source s on s.id = t.source_id group by 1, 2 order by 3 desc`,
    { from, until },
  );
