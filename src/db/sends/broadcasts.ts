import type { Reading, Scope } from '@/db/kit/scope';
import { whereOf, type Cut } from '@/db/audience/cut';
import { EVERYWHERE } from '@/core/phone/place';
import type { Passed, SoFar } from '@/core/broadcast/limits';
import type { Condition } from '@/core/audience/condition';
import type { Channel } from '@/core/message/channel';
import type { BroadcastState } from '@/core/broadcast/lifecycle';

export interface UpcomingRow {
  id: string;
  name: string;
  send_at: Date;
  program: string;
}

export const upcomingBroadcasts = (scope: Scope): Promise<UpcomingRow[]> =>
  scope.rows<UpcomingRow>(
    `select b.id, b.name, b.send_at, g.name as program from broadcast b join program g on g.id = b.program_id
      where b.workspace_id = :workspace and b.state = 'scheduled' order by b.send_at limit 20`,
  );

export interface GoingOutRow {
  id: string;
  name: string;
  program: string;
  state: BroadcastState;
  /** When it begins, or began. */
  at: Date;
  /** Messages that have not left; a scheduled one has none yet. */
  to_go: number;
}

/** What is on its way or will be: what runs, waits or is held for the night first, then what is scheduled. */
export const goingOut = (scope: Scope): Promise<GoingOutRow[]> =>
  scope.rows<GoingOutRow>(
    `select b.id, b.name, g.name as program, b.state, coalesce(b.begun_at, b.send_at) as at,
            coalesce((select sum(n)::int from tally t where t.workspace_id = :workspace and t.about = 'send' and t.id = b.id and t.what in ('queued', 'submitting')), 0) as to_go
       from broadcast b join program g on g.id = b.program_id
      where b.workspace_id = :workspace and b.state in ('preparing', 'sending', 'paused', 'scheduled')
      order by b.state = 'scheduled', coalesce(b.begun_at, b.send_at) limit 20`,
  );

/** Broadcasts that are to begin before an instant, but one. */
export const scheduledBefore = (
  scope: Scope,
  at: Date,
  except: string | null,
): Promise<{ program_id: string; channel: Channel; send_at: Date; audience: Condition | null }[]> =>
  scope.rows(
    `select program_id, channel, send_at, audience from broadcast
      where workspace_id = :workspace and state = 'scheduled' and send_at < :at and id is distinct from :except order by send_at limit 20`,
    { at, except },
  );

export interface PlannedRow {
  person_id: string;
  id: string;
  name: string;
  send_at: Date;
  audience: Condition | null;
}

/** Scheduled broadcasts of the programs somebody is in. */
export const broadcastsAhead = (scope: Scope, personId: string): Promise<PlannedRow[]> =>
  broadcastsAheadOf(scope, [personId]);

export const broadcastsAheadOf = (scope: Scope, people: readonly string[]): Promise<PlannedRow[]> =>
  scope.rows<PlannedRow>(
    `select b.id, b.name, b.send_at, b.audience, c.person_id from broadcast b
       join consent_state c on c.program_id = b.program_id and c.channel = b.channel and c.state = 'in' and c.current
      where b.workspace_id = :workspace and b.state = 'scheduled' and c.person_id = any(:people::text[]) order by b.send_at limit 20 * cardinality(:people::text[])`,
    { people },
  );

/** What a program wrote, or will have written, between two instants, newest first. */
export const wordingsBetween = (
  scope: Scope,
  asked: { program: string; channel: Channel; from: Date; to: Date; except: string },
): Promise<{ name: string; at: Date; source: string }[]> =>
  scope.rows(
    `select name, send_at as at, body as source from broadcast
      where workspace_id = :workspace and program_id = :program and channel = :channel and send_at between :from and :to
        and state <> 'draft' and id <> :except order by send_at desc limit 100`,
    asked,
  );

export interface BroadcastRow {
  id: string;
  name: string;
  channel: Channel;
  program: string;
  program_id: string;
  state: BroadcastState;
  send_at: Date | null;
  begun_at: Date | null;
  created_at: Date;
}

export const broadcastRows = (scope: Scope, before: string, most: number): Promise<BroadcastRow[]> =>
  scope.rows<BroadcastRow>(
    `select b.id, b.name, b.channel, b.program_id, g.name as program, b.state, b.send_at, b.begun_at, b.created_at
       from broadcast b join program g on g.id = b.program_id
      where b.workspace_id = :workspace and (:before = '' or b.id < :before)
      order by b.id desc limit :most`,
    { before, most },
  );

export interface BroadcastTextRow {
  id: string;
  person_id: string;
  /** Where it went, or would have. */
  address: string;
  first_name: string | null;
  last_name: string | null;
  state: string;
  failure: string | null;
  reasons: string[];
  at: Date | null;
  not_before: Date | null;
}

/** The people of a broadcast by the state of their text, a failure or a clearance reason. Empty: all. */
export const broadcastTexts = (
  scope: Scope,
  values: { broadcastId: string; states: readonly string[]; failure: string; code: string; most: number },
): Promise<BroadcastTextRow[]> =>
  scope.rows<BroadcastTextRow>(
    `select t.id, t.person_id, t.address, p.first_name, p.last_name, t.state, t.failure, coalesce(t.settled_at, t.submitted_at) as at, t.not_before,
            coalesce((select array_agg(r ->> 'code') from jsonb_array_elements(t.clearance -> 'reasons') r), '{}') as reasons
       from message t join person p on p.id = t.person_id
      where t.workspace_id = :workspace and t.send_id = :broadcastId
        and (cardinality(:states::text[]) = 0 or t.state = any(:states::text[]))
        and (:failure = '' or t.failure = :failure)
        and (:code = '' or case t.state when 'blocked' then (select r ->> 'code' from jsonb_array_elements(t.clearance -> 'reasons') with ordinality as e (r, nth) where r ->> 'effect' = 'block' order by nth limit 1) = :code
             else exists (select 1 from jsonb_array_elements(t.clearance -> 'reasons') r where r ->> 'code' = :code) end)
      order by t.id limit :most`,
    values,
  );

/** Those who wrote back to a broadcast, or left after it. */
export const broadcastRepliers = (
  scope: Scope,
  broadcastId: string,
  meanings: readonly string[],
  most: number,
): Promise<(BroadcastTextRow & { body: string })[]> =>
  scope.rows<BroadcastTextRow & { body: string }>(
    `select distinct on (i.person_id) t.id, i.person_id, t.address, p.first_name, p.last_name, t.state, t.failure, i.at, t.not_before, i.body, '{}'::text[] as reasons
       from inbound_text i join message t on t.id = i.after_text_id join person p on p.id = i.person_id
      where i.workspace_id = :workspace and i.after_send_id = :broadcastId and i.meaning = any(:meanings) order by i.person_id, i.at limit :most`,
    { broadcastId, meanings, most },
  );

/** Those who followed a link of a broadcast; or left it by one, or complained, which is written nowhere but in the ledger. */
export const broadcastActors = (
  scope: Scope,
  broadcastId: string,
  act: keyof typeof ACTS,
  most: number,
): Promise<BroadcastTextRow[]> =>
  scope.rows<BroadcastTextRow>(
    `select distinct on (t.person_id) t.id, t.person_id, t.address, p.first_name, p.last_name, t.state, t.failure, x.at, t.not_before, '{}'::text[] as reasons
       from message t join person p on p.id = t.person_id join lateral (${ACTS[act]}) x on true
      where t.workspace_id = :workspace and t.send_id = :broadcastId order by t.person_id, x.at limit :most`,
    { broadcastId, most },
  );

const ACTS = {
  read: `select c.read_at as at from chat c where c.message_id = t.id and c.read_at is not null`,
  clicked: `select e.at from engagement e where e.person_id = t.person_id and e.kind = 'clicked' and e.text_id = t.id`,
  left: `select e.at from consent_event e where e.person_id = t.person_id and e.channel = 'email' and e.kind = 'opted-out'
          and e.method in ('form', 'carrier') and e.evidence ->> 'afterTextId' = t.id`,
};

/** Every zone in which members of a program may live. */
export async function zonesOfMembers(scope: Scope, programId: string): Promise<string[]> {
  const rows = await scope.rows<{ zone: string }>(
    `select distinct z as zone from consent_state c join person p on p.id = c.person_id
      cross join lateral unnest(case when coalesce(cardinality(p.place_zones), 0) = 0 then :everywhere::text[] else p.place_zones end) as z
      where c.workspace_id = :workspace and c.program_id = :programId and c.state = 'in'`,
    { programId, everywhere: EVERYWHERE },
  );
  return rows.length > 0 ? rows.map(({ zone }) => zone) : [...EVERYWHERE];
}

/** Broadcasts of which the rest waits for the better wording, and gets it by itself; a few of each workspace. */
export const undecidedBroadcasts = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select id, workspace_id from broadcast b where state = 'sending' and chosen is null and comparison -> 'first' <> 'null'
        and comparison -> 'byItself' = 'true' and ${untroubled}
      order by row_number() over (partition by workspace_id order by id), workspace_id limit 50`,
    { at },
  );

/** Takes people out of a broadcast: whoever has no message of it yet gets none. Gives how many are new in it. */
export const leaveOut = (
  scope: Scope,
  broadcastId: string,
  people: readonly string[],
  at: Date,
): Promise<number> =>
  scope.run(
    `insert into broadcast_left_out (workspace_id, broadcast_id, person_id, at)
     select :workspace, :broadcastId, id, :at from person where workspace_id = :workspace and id = any(:people::text[]) on conflict do nothing`,
    { broadcastId, people, at },
  );

/** Which of these people somebody took out of a broadcast. */
export async function leftOutOf(
  scope: Scope,
  broadcastId: string,
  people: readonly string[],
): Promise<Set<string>> {
  const rows = await scope.rows<{ id: string }>(
    `select person_id as id from broadcast_left_out where workspace_id = :workspace and broadcast_id = :broadcastId and person_id = any(:people::text[])`,
    { broadcastId, people },
  );
  return new Set(rows.map(({ id }) => id));
}

/** Broadcasts that go out with something left to hold back; a few of each workspace. */
export const goingBroadcasts = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select id, workspace_id from broadcast b where state = 'sending' and ${untroubled}
        and (exists (select 1 from message t where t.send_id = b.id and t.not_before is not null)
          or (chosen is null and comparison -> 'first' <> 'null'))
      order by row_number() over (partition by workspace_id order by id), workspace_id limit 50`,
    { at },
  );

/** What became of those it was sent to, as limits ask it. */
export async function soFarOf(scope: Scope, id: string): Promise<SoFar> {
  const [row] = await scope.rows<SoFar>(
    `select coalesce(sum(n) filter (where what = 'delivered'), 0)::int as delivered, coalesce(sum(n) filter (where what = 'failed'), 0)::int as failed,
            coalesce(sum(n) filter (where what = 'failed' and reason = 'spam-blocked'), 0)::int as spam,
            (select count(distinct i.person_id)::int from inbound_text i
              where i.workspace_id = :workspace and i.after_send_id = :id and i.meaning = 'opt-out') as "optOuts"
       from tally where workspace_id = :workspace and about = 'send' and id = :id`,
    { id },
  );
  return row!;
}

/** How many people of a cut wait for a message of a broadcast. */
export async function waitingIn(scope: Scope, broadcastId: string, cut: Cut): Promise<number> {
  const { where, values } = whereOf(cut);
  const [row] = await scope.rows<{ waiting: number }>(
    `select count(*)::int as waiting from message t join person p on p.id = t.person_id
      where t.workspace_id = :workspace and t.send_id = :broadcastId and t.not_before is not null and ${where}`,
    { ...values, broadcastId },
  );
  return row!.waiting;
}

/** What people wrote after a broadcast, the newest first. */
export const latestReplies = (
  scope: Scope,
  broadcastId: string,
  most: number,
): Promise<
  {
    id: string;
    person_id: string;
    first_name: string | null;
    last_name: string | null;
    address: string;
    body: string;
    at: Date;
  }[]
> =>
  scope.rows(
    `select i.id, i.person_id, p.first_name, p.last_name, t.address, i.body, i.at
       from inbound_text i join message t on t.id = i.after_text_id join person p on p.id = i.person_id
      where i.workspace_id = :workspace and i.after_send_id = :broadcastId order by i.at desc, i.id desc limit :most`,
    { broadcastId, most },
  );

export interface WaitingSend {
  id: string;
  name: string;
  /** Why it was held by itself; null: the rest of it waits for a choice between wordings. */
  held: Passed | null;
}

/** Broadcasts that wait for somebody: held by themselves, or with wordings that went to some and no choice yet. */
export const waitingSends = (scope: Scope): Promise<WaitingSend[]> =>
  scope.rows<WaitingSend>(
    `select b.id, b.name, case when b.state = 'paused' then b.held end as held from broadcast b
      where b.workspace_id = :workspace and ((b.state = 'paused' and b.held is not null)
         or (b.state = 'sending' and b.chosen is null and b.comparison -> 'first' <> 'null'
             and not exists (select 1 from message t where t.send_id = b.id and t.not_before is not null)))
      order by b.id limit 20`,
  );
