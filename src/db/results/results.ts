import type { BroadcastCounts } from '@/core/results/broadcast-result';
import type { MediaKind } from '@/core/media/kinds';
import type { Channel } from '@/core/message/channel';
import type { Scope } from '@/db/kit/scope';

/** The counts core works with, as one row per broadcast. */
export interface BroadcastCountsRow extends Omit<BroadcastCounts, 'optOuts'> {
  id: string;
  opt_outs: number;
}

/** Counts of broadcasts by the state of their texts; replies and opt-outs belong to the last text before them. */
export const broadcastCounts = (scope: Scope, ids: readonly string[]): Promise<BroadcastCountsRow[]> =>
  scope.rows<BroadcastCountsRow>(
    `with counted as (
       select send_id as broadcast_id,
              count(*) filter (where state = 'queued')::int as queued, count(*) filter (where state = 'submitting')::int as sending,
              count(*) filter (where state = 'submitted')::int as submitted, count(*) filter (where state = 'delivered')::int as delivered,
              count(*) filter (where state = 'failed')::int as failed, count(*) filter (where state = 'unconfirmed')::int as unconfirmed,
              count(*) filter (where state = 'blocked')::int as blocked, count(*) filter (where state = 'cancelled')::int as cancelled,
              coalesce(sum(parts) filter (where submitted_at is not null), 0)::int as parts,
              coalesce(sum(credits) filter (where submitted_at is not null), 0)::int as credits
         from message where workspace_id = :workspace and send_id = any(:ids) group by send_id),
     answered as (
       select t.send_id as broadcast_id, count(distinct i.person_id) filter (where i.meaning in ('reply', 'unclear'))::int as replies,
              count(distinct i.person_id) filter (where i.meaning = 'opt-out')::int as opt_outs
         from inbound_text i join message t on t.id = i.after_text_id
        where i.workspace_id = :workspace and t.send_id = any(:ids) group by t.send_id),
     -- Who leaves by a link or complains writes nothing: the ledger says after which letter.
     unwritten as (
       select t.send_id as broadcast_id, count(distinct e.person_id)::int as opt_outs
         from message t join consent_event e on e.person_id = t.person_id and e.channel = 'email' and e.kind = 'opted-out'
              and e.method in ('form', 'carrier') and e.evidence ->> 'afterTextId' = t.id
        where t.workspace_id = :workspace and t.send_id = any(:ids) and t.channel = 'email' group by t.send_id),
     clicked as (
       select t.send_id as broadcast_id, count(distinct e.person_id)::int as clicks
         from message t join engagement e on e.person_id = t.person_id and e.kind = 'clicked' and e.text_id = t.id
        where t.workspace_id = :workspace and t.send_id = any(:ids) group by t.send_id),
     failures as (
       select broadcast_id, jsonb_agg(jsonb_build_object('reason', failure, 'count', n) order by n desc) as list from (
         select send_id as broadcast_id, failure, count(*)::int as n from message
          where workspace_id = :workspace and send_id = any(:ids) and state = 'failed' group by send_id, failure) f group by broadcast_id),
     blocks as (
       select broadcast_id, jsonb_agg(jsonb_build_object('reason', code, 'count', n) order by n desc) as list from (
         select t.send_id as broadcast_id, r ->> 'code' as code, count(*)::int as n from message t
           cross join lateral jsonb_array_elements(t.clearance -> 'reasons') r
          where t.workspace_id = :workspace and t.send_id = any(:ids) and t.state = 'blocked' and r ->> 'effect' = 'block'
          group by t.send_id, r ->> 'code') b group by broadcast_id)
     select b.id, coalesce(c.queued, 0) as queued, coalesce(c.sending, 0) as sending, coalesce(c.submitted, 0) as submitted,
            coalesce(c.delivered, 0) as delivered, coalesce(c.failed, 0) as failed, coalesce(c.unconfirmed, 0) as unconfirmed,
            coalesce(c.blocked, 0) as blocked, coalesce(c.cancelled, 0) as cancelled, coalesce(c.parts, 0) as parts,
            coalesce(c.credits, 0) as credits, coalesce(a.replies, 0) as replies, coalesce(a.opt_outs, 0) + coalesce(w.opt_outs, 0) as opt_outs, coalesce(l.clicks, 0) as clicks,
            coalesce(f.list, '[]') as failures, coalesce(k.list, '[]') as blocks
       from broadcast b left join counted c on c.broadcast_id = b.id left join answered a on a.broadcast_id = b.id
       left join unwritten w on w.broadcast_id = b.id left join clicked l on l.broadcast_id = b.id
       left join failures f on f.broadcast_id = b.id left join blocks k on k.broadcast_id = b.id
      where b.workspace_id = :workspace and b.id = any(:ids)`,
    { ids },
  );

export interface PersonTextRow {
  direction: 'in' | 'out';
  id: string;
  channel: Channel;
  /** Of an e-mail. */
  subject: string | null;
  at: Date;
  body: string;
  kind: string;
  state: string | null;
  failure: string | null;
  parts: number | null;
  program: string | null;
  broadcast_id: string | null;
  broadcast: string | null;
  sequence_id: string | null;
  sequence: string | null;
  sent_by: string | null;
  not_before: Date | null;
  submitted_at: Date | null;
  settled_at: Date | null;
  clearance: Record<string, unknown> | null;
  meaning: string | null;
  rule: string | null;
  near_keyword: string | null;
  resolved_at: Date | null;
  sender: string | null;
  /** Files that went or came with it. */
  files: { id: string; kind: MediaKind; name: string; alt: string }[];
}

const FILE = `jsonb_build_object('id', m.id, 'kind', m.kind, 'name', m.name, 'alt', m.alt)`;

/** Everything sent to and received from a person, newest first. */
export const personTexts = (scope: Scope, personId: string, most: number): Promise<PersonTextRow[]> =>
  scope.rows<PersonTextRow>(
    `select * from (
       select 'out' as direction, t.id, t.channel, e.subject, coalesce(t.submitted_at, t.settled_at, t.created_at) as at, t.body, t.kind, t.state, t.failure, t.parts,
              g.name as program, b.id as broadcast_id, b.name as broadcast, q.id as sequence_id, q.name as sequence, a.name as sent_by, t.not_before, t.submitted_at, t.settled_at, t.clearance,
              null as meaning, null as rule, null as near_keyword, null::timestamptz as resolved_at, s.number as sender,
              coalesce((select jsonb_agg(${FILE} order by array_position(t.media, m.id)) from media_file m where m.workspace_id = t.workspace_id and m.id = any(t.media)), '[]') as files
         from message t left join mail e on e.message_id = t.id left join program g on g.id = t.program_id left join broadcast b on b.id = t.send_id
         left join sequence q on q.id = t.send_id left join account a on a.id = t.created_by left join sender_number s on s.id = t.sender_id
        where t.workspace_id = :workspace and t.person_id = :personId
       union all
       select 'in', i.id, i.channel, i.subject, i.at, i.body, 'reply', null, null, null, null, null, null, null, null, null, null, null, null, null,
              i.meaning, i.rule, i.near_keyword, i.resolved_at, s.number,
              coalesce((select jsonb_agg(${FILE} order by m.id) from media_file m where m.workspace_id = i.workspace_id and m.arrived_as = i.carrier_id), '[]')
         from inbound_text i left join sender_number s on s.id = i.sender_id
        where i.workspace_id = :workspace and i.person_id = :personId) everything
      order by at desc, id desc limit :most`,
    { personId, most },
  );

export interface GrowthRow {
  week: Date;
  joined: number;
  left: number;
}

/** Weeks begin on Monday in the workspace's zone. */
export const growthByWeek = (scope: Scope, since: Date): Promise<GrowthRow[]> =>
  scope.rows<GrowthRow>(
    `select date_trunc('week', at, (select zone from workspace where id = :workspace)) as week, count(distinct person_id) filter (where kind = 'opted-in')::int as joined,
            count(distinct person_id) filter (where kind = 'opted-out')::int as left
       from consent_event e where workspace_id = :workspace and at >= :since
        and not exists (select 1 from person p where p.id = e.person_id and p.merged_into is not null) group by 1 order by 1`,
    { since },
  );
