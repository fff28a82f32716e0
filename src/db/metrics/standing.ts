import { sqlList } from '@/db/kit/sql';
import { kindsThat } from '@/core/message/kinds';
import type { Crossing } from '@/db/kit/scope';

/** What an operator watches, over all workspaces. */
export const dueByChannel = (
  crossing: Crossing,
  at: Date,
): Promise<{ channel: string; n: number; age: number }[]> =>
  crossing.rows(
    `select channel, count(*)::int as n, extract(epoch from :at - min(not_before))::float as age
       from message where not_before <= :at group by 1`,
    { at },
  );

/** Of texts, as the tally of each number keeps them. */
export const messagesByState = (
  crossing: Crossing,
): Promise<{ state: string; reason: string | null; n: number }[]> =>
  crossing.rows(
    `select what as state, reason, sum(n)::float as n from tally where about = 'sender' group by 1, 2 having sum(n) <> 0`,
  );

const ANSWERS = sqlList(kindsThat(({ priority }) => priority === 0));

/** Seconds from making an automatic answer to its leaving; no row: there were none lately. */
export const answerSeconds = (
  crossing: Crossing,
  since: Date,
): Promise<{ p50: number | null; p95: number | null }[]> =>
  crossing.rows(
    `select percentile_cont(0.5) within group (order by s) as p50, percentile_cont(0.95) within group (order by s) as p95
       from (select extract(epoch from submitted_at - created_at)::float as s from message
              where submitted_at > :since and kind in (${ANSWERS})) answers`,
    { since },
  );

export const linksByCarrier = (crossing: Crossing): Promise<{ carrier: string; up: boolean }[]> =>
  crossing.rows(
    `select c.id as carrier, exists (select 1 from carrier_link l where l.carrier_id = c.id and l.state = 'up') as up from carrier c`,
  );

export const happeningsLag = (crossing: Crossing): Promise<{ consumer: string; n: number }[]> =>
  crossing.rows(
    `select c.consumer, sum((select count(*) from happening h where h.workspace_id = c.workspace_id and h.seq > c.after_seq))::float as n
       from happening_cursor c group by 1`,
  );

export const stuckRows = (crossing: Crossing): Promise<{ queue: string; aside: boolean; n: number }[]> =>
  crossing.rows(`select queue, aside_at is not null as aside, count(*)::int as n from trouble group by 1, 2`);
