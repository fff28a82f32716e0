import type { Crossing } from '@/db/kit/scope';
import { finds, ITS_SEND, WAITS } from './text-moves';

/** Advisory lock class: a worker holds (class, its id) as long as it lives, and PostgreSQL lets go when it dies. */
export const WORKER_LOCK = 7301;

/** The same of one that may send: a worker that is held lives too. */
export const SENDING_LOCK = 7303;

/** The ids (`worker`) of those that hold a lock of a class. Another database of the same server has workers of its own. */
const holding = (lock: number): string => `select l.objid::bigint as worker from pg_locks l
  where l.locktype = 'advisory' and l.classid = ${lock} and l.granted
    and l.database = (select oid from pg_database where datname = current_database())`;

/** The ids of those that live. */
export const ALIVE = holding(WORKER_LOCK);

/** Whether a worker of this database may send now. */
export const someoneSends = async (crossing: Crossing): Promise<boolean> =>
  (await crossing.rows(holding(SENDING_LOCK))).length > 0;

export const workersAlive = (crossing: Crossing): Promise<{ worker: number }[]> => crossing.rows(ALIVE);

/** Texts whose worker died between marking and hearing an answer: nobody knows, so they are unconfirmed. */
export const loseOrphans = (crossing: Crossing, at: Date): Promise<number> =>
  crossing.run(
    `with alive as materialized (${ALIVE}),
     over as (
       delete from departure d where not exists (select 1 from alive where alive.worker = d.worker) returning d.texts),
     moved as (
       update message t set state = 'unconfirmed', lost_at = :at from over cross join lateral unnest(over.texts) as u (id)
        where t.id = u.id and ${finds('lose')} returning t.id, t.workspace_id)
     insert into message_event (workspace_id, message_id, event, detail, at) select workspace_id, id, 'lose', 'worker ended', :at from moved`,
    { at },
  );

export interface SilentText {
  id: string;
  submitted_at: Date;
  /** The carrier of its number. */
  carrier_id: string;
  come: number;
  missing: number;
  /** Parts of which the carrier told something: then it was taken, at least in part. */
  parts: number;
}

/** Unconfirmed texts of dead workers that are old enough to settle, with the receipts of their neighbours. */
export const silentTexts = (crossing: Crossing, before: Date, most: number): Promise<SilentText[]> =>
  crossing.rows<SilentText>(
    `select t.id, t.submitted_at, s.carrier_id, n.come::int, n.missing::int, (select count(*)::int from text_part p where p.text_id = t.id) as parts from message t
      join sender_number s on s.id = t.sender_id
      cross join lateral (
        select count(*) filter (where o.state in ('delivered', 'failed')) as come, count(*) filter (where o.state in ('submitted', 'no-receipt')) as missing
          from message o join sender_number os on os.id = o.sender_id and os.carrier_id = s.carrier_id where o.workspace_id = t.workspace_id and o.id <> t.id and o.channel = 'sms' and o.media is null
           and o.submitted_at between t.submitted_at - interval '1 hour' and t.submitted_at + interval '1 hour') n
      where t.lost_at is not null and t.worker is not null and t.channel = 'sms' and t.media is null and t.submitted_at < :before
      order by t.id limit :most for update of t skip locked`,
    { before, most },
  );

/** The end of the silence: sent again where it was proved not taken, else left for a human (worker null). */
export const settleSilent = (
  crossing: Crossing,
  ids: readonly string[],
  requeue: readonly boolean[],
  at: Date,
): Promise<number> =>
  crossing.run(
    `with known as (
       select u.id, case when u.requeue then ${ITS_SEND} end as goes from unnest(:ids::text[], :requeue::boolean[]) as u (id, requeue) join message t on t.id = u.id),
     moved as (
       update message t set state = case when u.goes is null then 'unconfirmed' when u.goes = 'over' then 'cancelled' else 'queued' end, worker = null,
              not_before = case u.goes when 'on' then :at when 'waits' then ${WAITS} end, lost_at = case when u.goes is null then t.lost_at end,
              settled_at = case when u.goes = 'over' then :at::timestamptz end
         from known u where t.id = u.id and t.state = 'unconfirmed'
       returning t.id, t.workspace_id, u.goes)
     insert into message_event (workspace_id, message_id, event, detail, at)
     select workspace_id, id, case goes when 'over' then 'withdraw' else 'requeue' end, 'proved not taken', :at from moved where goes is not null`,
    { ids, requeue, at },
  );
