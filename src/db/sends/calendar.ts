import type { BroadcastState } from '@/core/broadcast/lifecycle';
import type { PromiseUse } from '@/core/broadcast/calendar';
import type { Condition } from '@/core/audience/condition';
import type { Channel } from '@/core/message/channel';
import type { Compiled } from '@/db/audience/compile';
import { HERE } from '@/db/audience/cut';
import type { Scope, SqlValue } from '@/db/kit/scope';

export interface CalendarRow {
  id: string;
  name: string;
  channel: Channel;
  program: string;
  program_id: string;
  state: BroadcastState;
  audience: Condition | null;
  /** When it began, or shall. */
  at: Date;
  /** The hour is meant where each of them lives. */
  each: boolean;
  repeats: boolean;
}

/** Broadcasts with a time in a span, in order. Drafts have none. */
export const broadcastsBetween = (scope: Scope, from: Date, to: Date): Promise<CalendarRow[]> =>
  scope.rows<CalendarRow>(
    `select b.id, b.name, b.channel, b.program_id, g.name as program, b.state, b.audience, b.send_at as at,
            b.timing -> 'local' <> 'null' as each, b.repeat is not null as repeats
       from broadcast b join program g on g.id = b.program_id
      where b.workspace_id = :workspace and b.send_at >= :from and b.send_at < :to and b.state <> 'draft'
      order by b.send_at, b.id limit 500`,
    { from, to },
  );

/** What programs promised, and what their broadcasts take of it in a month, or in its weeks the fullest one. */
export const promiseUses = (scope: Scope, asked: { month: string; zone: string }): Promise<PromiseUse[]> =>
  scope.rows<PromiseUse>(
    `with spans as (
       select g.id, g.name, g.promise_count, g.promise_period, b.state = 'scheduled' as ahead,
              date_trunc(g.promise_period, b.send_at at time zone :zone) as span
         from program g join broadcast b on b.program_id = g.id and b.workspace_id = g.workspace_id
        where g.workspace_id = :workspace and g.promise_count is not null and g.archived_at is null and b.state <> 'draft'
          and b.send_at >= ((:month || '-01')::date - 7)::timestamp at time zone :zone
          and b.send_at < ((:month || '-01')::date + interval '1 month')::timestamp at time zone :zone
          and (g.promise_period = 'week' or to_char(b.send_at at time zone :zone, 'YYYY-MM') = :month)),
     counted as (
       select id, name, promise_count, promise_period, count(*) filter (where not ahead)::int as sent, count(*) filter (where ahead)::int as planned
         from spans group by id, name, promise_count, promise_period, span)
     select distinct on (id) name as program, promise_count as promised, promise_period as period, sent, planned
       from counted order by id, sent + planned desc`,
    asked,
  );

/** A broadcast that is scheduled, as far as it takes to know who is meant. */
export interface Planned {
  programId: string;
  channel: Channel;
  compiled: Compiled | null;
}

export interface PileUp {
  /** People who get two or more. */
  several: number;
  /** The most anybody gets. */
  most: number;
}

/** How many people are meant by several of these. */
export async function pileUp(scope: Scope, planned: readonly Planned[]): Promise<PileUp> {
  const values: Record<string, SqlValue> = {};
  const parts = planned.map(({ programId, channel, compiled }, i) => {
    Object.assign(values, { [`p${i}`]: programId, [`c${i}`]: channel }, compiled?.values ?? {});
    return `select p.id from person p join consent_state c on c.person_id = p.id and c.program_id = :p${i} and c.channel = :c${i} and c.state = 'in' and c.current
      where ${HERE} and ${compiled?.where ?? 'true'}`;
  });
  const [row] = await scope.rows<{ several: number; most: number | null }>(
    `select count(*) filter (where n >= 2)::int as several, max(n)::int as most
       from (select id, count(*) as n from (${parts.join(' union all ')}) u group by id) counted where :workspace is not null`,
    values,
  );
  return { several: row!.several, most: row!.most ?? 0 };
}
