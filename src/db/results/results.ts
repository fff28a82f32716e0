import type { BroadcastCounts } from '@/core/results/broadcast-result';
import type { MediaKind } from '@/core/media/kinds';
import type { Channel } from '@/core/message/channel';
import { withWords } from '@/db/delivery/bundles';
import type { Crossing, Scope } from '@/db/kit/scope';

/** The counts core works with, as one row per broadcast. */
export interface BroadcastCountsRow extends Omit<BroadcastCounts, 'optOuts' | 'noReceipt'> {
  no_receipt: number;
  id: string;
  opt_outs: number;
}

/**
 * Counts of broadcasts by the state of their messages, of which a tally is kept; replies and opt-outs belong to the last
 * text before them.
 */
export const broadcastCounts = (scope: Scope, ids: readonly string[]): Promise<BroadcastCountsRow[]> =>
  scope.rows<BroadcastCountsRow>(
    `with tally as (
       select id, what, reason, sum(n)::int as n, sum(parts)::int as parts, sum(credits)::int as credits from tally
        where workspace_id = :workspace and about = 'send' and id = any(:ids) group by id, what, reason),
     counted as (
       select id, ${STATES.map(([state, as]) => `coalesce(sum(n) filter (where what = '${state}'), 0)::int as ${as}`).join(', ')},
              sum(parts)::int as parts, sum(credits)::int as credits,
              ${reasons('failed')} as failures, ${reasons('block')} as blocks
         from tally group by id),
     answered as (
       select after_send_id as id, count(distinct person_id) filter (where meaning in ('reply', 'unclear'))::int as replies,
              count(distinct person_id) filter (where meaning = 'opt-out')::int as opt_outs
         from inbound_text where workspace_id = :workspace and after_send_id = any(:ids) group by 1),
     -- Who leaves by a link or complains writes nothing: the ledger says after which letter.
     unwritten as (
       select t.send_id as id, count(distinct e.person_id)::int as opt_outs
         from consent_event e join message t on t.id = e.evidence ->> 'afterTextId' and t.person_id = e.person_id
        where e.workspace_id = :workspace and e.channel = 'email' and e.kind = 'opted-out' and e.method in ('form', 'carrier')
          and e.evidence ->> 'afterTextId' is not null and t.send_id = any(:ids) and t.channel = 'email' group by 1),
     clicked as (
       select send_id as id, count(distinct person_id)::int as clicks from engagement
        where workspace_id = :workspace and send_id = any(:ids) and kind = 'clicked' group by 1)
     select b.id, ${STATES.map(([, as]) => `coalesce(c.${as}, 0) as ${as}`).join(', ')}, coalesce(c.parts, 0) as parts,
            coalesce(c.credits, 0) as credits, coalesce(a.replies, 0) as replies, coalesce(a.opt_outs, 0) + coalesce(w.opt_outs, 0) as opt_outs, coalesce(l.clicks, 0) as clicks,
            coalesce(c.failures, '[]') as failures, coalesce(c.blocks, '[]') as blocks
       from broadcast b left join counted c on c.id = b.id left join answered a on a.id = b.id
       left join unwritten w on w.id = b.id left join clicked l on l.id = b.id
      where b.workspace_id = :workspace and b.id = any(:ids)`,
    { ids },
  );

const STATES = [
  ...['queued', 'submitted', 'delivered', 'failed', 'unconfirmed', 'blocked', 'cancelled'].map((state) => [
    state,
    state,
  ]),
  ['submitting', 'sending'],
  ['no-receipt', 'no_receipt'],
];

const reasons = (what: string): string =>
  `jsonb_agg(jsonb_build_object('reason', reason, 'count', n) order by n desc, reason) filter (where what = '${what}' and n > 0)`;

/** Differences put together at a time. */
const TOGETHER_AT_ONCE = 20_000;

/**
 * Puts the differences of one send, and of one number and day, together. Whoever reads sees all of them before and after;
 * two who do it at once leave two sums, which are one sum still.
 */
export const putTogether = (crossing: Crossing): Promise<number> =>
  crossing.run(
    `with apart as (
       delete from tally where seq in (
         select seq from tally where not together order by seq limit ${TOGETHER_AT_ONCE} for update skip locked) returning *),
     before as (
       delete from tally t using (select distinct workspace_id, about, id, day from apart) a
        where t.together and t.workspace_id = a.workspace_id and t.about = a.about and t.id = a.id and t.day is not distinct from a.day returning t.*)
     insert into tally (workspace_id, about, id, channel, day, nth, what, reason, gone, n, parts, credits, together)
     select workspace_id, about, id, channel, day, nth, what, reason, gone, sum(n), sum(parts), sum(credits), true
       from (select * from apart union all select * from before) every group by 1, 2, 3, 4, 5, 6, 7, 8, 9
     having sum(n) <> 0 or sum(parts) <> 0 or sum(credits) <> 0`,
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
  program_id: string | null;
  program: string | null;
  broadcast_id: string | null;
  broadcast: string | null;
  sequence_id: string | null;
  sequence: string | null;
  sent_by: string | null;
  /** Of an answer: whose stack they had been pressed in, where that is not who answered. */
  in_place_of: string | null;
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
  /** Of a chat message: when it was read, the account, what could be pressed under it, and what they pressed. */
  read_at: Date | null;
  account: string | null;
  buttons: { kind: string; words: string }[] | null;
  button: string | null;
}

const FILE = `jsonb_build_object('id', m.id, 'kind', m.kind, 'name', m.name, 'alt', m.alt)`;

/** Everything sent to and received from a person, newest first. */
export const personTexts = async (scope: Scope, personId: string, most: number): Promise<PersonTextRow[]> =>
  withWords(
    scope,
    await scope.rows<PersonTextRow & { bundle_id: string | null }>(
      `select * from (
       select 'out' as direction, t.id, t.channel, e.subject, coalesce(t.submitted_at, t.settled_at, t.created_at) as at, t.body, t.kind, t.state, t.failure, t.parts,
              t.program_id, g.name as program, b.id as broadcast_id, b.name as broadcast, q.id as sequence_id, q.name as sequence, coalesce(a.name, k.name) as sent_by, pressed.by as in_place_of, t.not_before, t.submitted_at, t.settled_at, t.clearance,
              null as meaning, null as rule, null as near_keyword, null::timestamptz as resolved_at, s.number as sender,
              coalesce((select jsonb_agg(${FILE} order by array_position(t.media, m.id)) from media_file m where m.workspace_id = t.workspace_id and m.id = any(coalesce(t.media, c.media))), '[]') as files,
              c.read_at, ca.name as account,
              coalesce(w.words -> 'buttons', (select jsonb_agg(jsonb_build_object('kind', 'reply', 'words', b)) from unnest(c.buttons) b)) as buttons, null as button, t.bundle_id
         from message t left join mail e on e.message_id = t.id left join chat c on c.message_id = t.id left join chat_account ca on ca.id = c.account_id
         left join chat_wording w on w.id = c.wording_id left join program g on g.id = t.program_id left join broadcast b on b.id = t.send_id
         left join sequence q on q.id = t.send_id left join account a on a.id = t.created_by
         left join guest_answer ga on ga.message_id = t.id left join stack k on k.id = ga.stack_id left join sender_number s on s.id = t.sender_id
         left join lateral (
           select case when h.account_id is distinct from t.created_by and r.passed_on_at is null and h.ended_at is null then h.name end as by
             from message p join stack_row r on r.message_id = p.id join stack h on h.id = r.stack_id
            where p.workspace_id = t.workspace_id and p.person_id = t.person_id and r.pressed_at <= t.created_at order by r.pressed_at desc limit 1
         ) pressed on t.kind = 'answer' and t.created_by is not null
        where t.workspace_id = :workspace and t.person_id = :personId
       union all
       select 'in', i.id, i.channel, i.subject, i.at, i.body, 'reply', null, null, null, null, null, null, null, null, null, null, null, null, null, null, null,
              i.meaning, i.rule, i.near_keyword, i.resolved_at, s.number,
              coalesce((select jsonb_agg(${FILE} order by m.id) from media_file m where m.workspace_id = i.workspace_id and m.arrived_as = i.carrier_id), '[]'),
              null, ca.name, null, i.button, null
         from inbound_text i left join sender_number s on s.id = i.sender_id left join chat_account ca on ca.id = i.chat_account_id
        where i.workspace_id = :workspace and i.person_id = :personId
       union all
       select 'in', q.id, 'sms', q.kind || ', by ' || s.name, q.at, q.words, 'inquiry', null, null, null, s.program_id, null, null, null, null, null, null, null, null, null, null, null,
              null, null, null, null, null, '[]',
              null, null, null, null, null
         from inquiry q join source s on s.id = q.source_id where q.workspace_id = :workspace and q.person_id = :personId) everything
      order by at desc, id desc limit :most`,
      { personId, most },
    ),
    'tell',
  );
