import type { TextKind } from '@/core/clearance/clear';
import type { FailureReason } from '@/core/delivery/failure';
import { statesBefore, TEXT_STATES, type TextEvent } from '@/core/delivery/lifecycle';
import type { Alphabet } from '@/core/text/measure';
import type { Crossing, Scope } from '../scope';
import { PRIORITIES } from './texts';

/*
 * What follows changes rows known by their ids, many at a time, in tables of which the planner knows little: one
 * that was empty a minute ago, or one that has suddenly ten thousand texts queued where it remembers none. So
 * nothing beside the id may look like a shorter way to few rows: a state is told by what it must not be, and
 * equality of the rest by the function behind the operator, which no index answers.
 */

/** The states an event may find: what a statement changes is what the transition table allows. */
const finds = (event: TextEvent): string => {
  const before = statesBefore(event);
  return `t.state not in (${TEXT_STATES.filter((state) => !before.includes(state))
    .map((state) => `'${state}'`)
    .join(', ')})`;
};

const HERE = `texteq(t.workspace_id, :workspace)`;

export interface DueSender {
  id: string;
  workspace_id: string;
  number: string;
  parts_per_second: number;
  next_free_at: Date;
}

/**
 * Sender numbers with something due, locked so that one worker at a time paces each. Sorted by what waits
 * most urgently.
 */
export const lockDueSenders = (crossing: Crossing, now: Date): Promise<DueSender[]> =>
  crossing.rows<DueSender>(
    `select s.id, s.workspace_id, s.number, s.parts_per_second, s.next_free_at from sender_number s
      where s.next_free_at <= :now + interval '1 second'
        and exists (select 1 from unnest(:priorities::smallint[]) as p (priority) cross join lateral (
          select 1 from text t where t.sender_id = s.id and t.priority = p.priority and t.not_before <= :now limit 1) as due)
      order by s.id for update of s skip locked`,
    { now, priorities: PRIORITIES },
  );

export interface DueText {
  id: string;
  workspace_id: string;
  person_id: string;
  program_id: string;
  broadcast_id: string | null;
  in_reply_to: string | null;
  kind: TextKind;
  number: string;
  sender_id: string | null;
  body: string;
  body_hash: string;
  alphabet: Alphabet;
  parts: number;
  credits: number;
  attempts: number;
}

const DUE_COLUMNS =
  'id, workspace_id, person_id, program_id, broadcast_id, in_reply_to, kind, number, sender_id, body, body_hash, alphabet, parts, credits, attempts, not_before';

/**
 * Texts of one sender whose time has come (null: texts that found no sender when they were queued), most urgent
 * first, locked until this transaction ends. Each priority is walked in the order of time, so that what is held
 * until morning is never looked at.
 */
export const lockDueTexts = (
  crossing: Crossing,
  senderId: string | null,
  now: Date,
  most: number,
): Promise<DueText[]> =>
  crossing.rows<DueText>(
    `select due.* from unnest(:priorities::smallint[]) as p (priority) cross join lateral (
       select ${DUE_COLUMNS} from text
        where sender_id ${senderId === null ? 'is null' : '= :senderId'} and priority = p.priority and not_before <= :now
        order by not_before limit :most for update skip locked) as due
      order by p.priority, due.not_before limit :most`,
    { priorities: PRIORITIES, now, most, ...(senderId === null ? {} : { senderId }) },
  );

export const paceSender = (crossing: Crossing, senderId: string, nextFreeAt: Date): Promise<number> =>
  crossing.run(`update sender_number set next_free_at = :nextFreeAt where id = :senderId`, {
    senderId,
    nextFreeAt,
  });

/**
 * Counts one more request to slow down; the count in a row, or null while the number is paused already: the
 * refusals that follow were on the wire before the pause and say nothing new.
 */
export async function countThrottle(
  crossing: Crossing,
  senderId: string,
  pausedFrom: Date,
): Promise<number | null> {
  const [row] = await crossing.rows<{ throttled_in_a_row: number }>(
    `update sender_number set throttled_in_a_row = least(throttled_in_a_row + 1, 10)
      where id = :senderId and next_free_at <= :pausedFrom returning throttled_in_a_row`,
    { senderId, pausedFrom },
  );
  return row?.throttled_in_a_row ?? null;
}

/** The carrier takes texts of these numbers again. One that is still paused keeps its count. */
export const forgetThrottles = (
  crossing: Crossing,
  senderIds: readonly string[],
  pausedFrom: Date,
): Promise<number> =>
  crossing.run(
    `update sender_number set throttled_in_a_row = 0
      where id = any(:senderIds) and throttled_in_a_row > 0 and next_free_at <= :pausedFrom`,
    { senderIds, pausedFrom },
  );

export interface Decided {
  id: string;
  clearance: string;
}

export interface Leaving extends Decided {
  senderId: string;
  reference: number;
}

/**
 * Marks texts as about to be written to the link, one departure together. Committed before the first byte goes
 * out. Gives the departure's id.
 */
export async function markSubmitting(
  scope: Scope,
  texts: readonly Leaving[],
  worker: number,
  at: Date,
): Promise<number> {
  // What is cleared in one go is mostly cleared in the same words.
  const clearances = [...new Set(texts.map((text) => text.clearance))];
  const nth = new Map(clearances.map((clearance, i) => [clearance, i + 1]));
  const [departure] = await scope.rows<{ id: number }>(
    `with moved as (
       update text t set state = 'submitting', not_before = null, worker = :worker, attempts = t.attempts + 1, sender_id = u.sender_id,
              reference = u.reference, clearance = (:clearances::jsonb[])[u.clearance], submitted_at = :at, failure = null
         from unnest(:ids::text[], :senders::text[], :references::int[], :nth::int[]) as u (id, sender_id, reference, clearance)
        where t.id = u.id and ${HERE} and ${finds('write')} returning t.id, t.person_id),
     last as (
       insert into last_text (person_id, workspace_id, at) select distinct person_id, :workspace, :at::timestamptz from moved
       on conflict (person_id) do update set at = excluded.at),
     told as (
       insert into text_event (workspace_id, text_id, event, at) select :workspace, id, 'write', :at from moved)
     insert into departure (workspace_id, worker, texts, unanswered, at)
     select :workspace, :worker::int, array_agg(id), count(*), :at from moved returning id`,
    {
      ids: texts.map((text) => text.id),
      senders: texts.map((text) => text.senderId),
      references: texts.map((text) => text.reference),
      nth: texts.map((text) => nth.get(text.clearance)!),
      clearances,
      worker,
      at,
    },
  );
  return departure!.id;
}

/** Counts down what a worker still waits for; a departure that is answered whole is over. */
export const answerDepartures = (
  crossing: Crossing,
  answered: ReadonlyMap<number, number>,
): Promise<number> =>
  crossing.run(
    `with told as (select * from unnest(:ids::bigint[], :counts::int[]) as u (id, count)),
     over as (delete from departure d using told where d.id = told.id and d.unanswered <= told.count)
     update departure d set unanswered = d.unanswered - told.count from told where d.id = told.id and d.unanswered > told.count`,
    { ids: [...answered.keys()], counts: [...answered.values()] },
  );

export const markBlocked = (scope: Scope, texts: readonly Decided[], at: Date): Promise<number> =>
  scope.run(
    `with moved as (
       update text t set state = 'blocked', not_before = null, clearance = u.clearance, settled_at = :at
         from unnest(:ids::text[], :clearances::jsonb[]) as u (id, clearance)
        where t.id = u.id and ${HERE} and ${finds('block')} returning t.id)
     insert into text_event (workspace_id, text_id, event, at) select :workspace, id, 'block', :at from moved`,
    { ids: texts.map((text) => text.id), clearances: texts.map((text) => text.clearance), at },
  );

export interface Holding extends Decided {
  notBefore: Date;
}

export const holdTexts = (scope: Scope, texts: readonly Holding[]): Promise<number> =>
  scope.run(
    `update text t set clearance = u.clearance, not_before = u.not_before
       from unnest(:ids::text[], :clearances::jsonb[], :notBefores::timestamptz[]) as u (id, clearance, not_before)
      where t.id = u.id and ${HERE} and ${finds('block')}`,
    {
      ids: texts.map((text) => text.id),
      clearances: texts.map((text) => text.clearance),
      notBefores: texts.map((text) => text.notBefore),
    },
  );

/** Keeps the number a person was first texted from by a program. */
export const assignSenders = (
  scope: Scope,
  rows: readonly { personId: string; programId: string; senderId: string }[],
): Promise<number> =>
  scope.run(
    `insert into sender_assignment (workspace_id, person_id, program_id, sender_id)
     select :workspace, u.* from unnest(:people::text[], :programs::text[], :senders::text[]) as u on conflict do nothing`,
    {
      people: rows.map((r) => r.personId),
      programs: rows.map((r) => r.programId),
      senders: rows.map((r) => r.senderId),
    },
  );

/** Takes credits and writes the ledger entry for it, in the transaction that marks the texts. */
export async function spendCredits(scope: Scope, credits: number, texts: number, at: Date): Promise<void> {
  if (credits === 0) return;
  await scope.run(
    `with spent as (update workspace set credit_balance = credit_balance - :credits where id = :workspace)
     insert into credit_entry (workspace_id, delta, reason, texts, at) values (:workspace, - :credits::int, 'texts', :texts, :at)`,
    { credits, texts, at },
  );
}

export interface TakenPart {
  textId: string;
  workspaceId: string;
  index: number;
  carrierId: string;
  /** The receipt, where it came with the answer. */
  told: ToldPart | null;
}

/**
 * The carrier took these parts: they exist from now on. Receipts that were quicker are applied at once. Gives
 * the carrier ids of the parts that were new: what was told of the others is still to be applied.
 */
export async function recordTaken(
  crossing: Crossing,
  parts: readonly TakenPart[],
  at: Date,
): Promise<string[]> {
  const carrierIds = parts.map((part) => part.carrierId);
  const added = await crossing.rows<{ carrier_id: string }>(
    `insert into text_part (text_id, workspace_id, index, carrier_id, state, stat, err, failure, at)
     select u.*, :at from unnest(:texts::text[], :workspaces::text[], :indexes::smallint[], :carrierIds::text[], :states::text[], :stats::text[], :errs::text[], :failures::text[]) as u
     on conflict do nothing returning carrier_id`,
    {
      texts: parts.map((p) => p.textId),
      workspaces: parts.map((p) => p.workspaceId),
      indexes: parts.map((p) => p.index),
      carrierIds,
      states: parts.map((p) => p.told?.state ?? 'accepted'),
      stats: parts.map((p) => p.told?.stat ?? null),
      errs: parts.map((p) => p.told?.err ?? null),
      failures: parts.map((p) => p.told?.failure ?? null),
      at,
    },
  );
  // A delivered part stays delivered, whatever came before.
  await crossing.run(
    `with known as (delete from orphan_receipt where carrier_id = any(:carrierIds) returning *)
     update text_part p set state = k.state, stat = k.stat, err = k.err, failure = k.failure, at = k.at
       from known k where p.carrier_id = k.carrier_id and textne(p.state, 'delivered')`,
    { carrierIds },
  );
  return added.map((row) => row.carrier_id);
}

export interface ToldPart {
  carrierId: string;
  state: 'delivered' | 'failed';
  stat: string;
  err: string;
  failure: FailureReason | null;
  number: string;
  reference: number | null;
}

export interface Settled {
  id: string;
  workspace_id: string;
  person_id: string;
  program_id: string;
  broadcast_id: string | null;
  state: 'delivered' | 'failed';
  failure: FailureReason | null;
}

/** Texts (`t`) that a worker is sending, or was when it ended: `d` is the departure. */
export const ON_THE_WAY = `departure d cross join lateral unnest(d.texts) as u (id) cross join lateral (
  select * from text where id = u.id and texteq(state, 'submitting') offset 0) as t`;

const TOLD = `unnest(:carrierIds::text[], :states::text[], :stats::text[], :errs::text[], :failures::text[], :numbers::text[], :references::int[])
  as r (carrier_id, state, stat, err, failure, number, reference)`;

const toldColumns = (receipts: readonly ToldPart[]) => ({
  carrierIds: receipts.map((r) => r.carrierId),
  states: receipts.map((r) => r.state),
  stats: receipts.map((r) => r.stat),
  errs: receipts.map((r) => r.err),
  failures: receipts.map((r) => r.failure),
  numbers: receipts.map((r) => r.number),
  references: receipts.map((r) => r.reference),
});

/** Applies receipts. Gives the texts of which a part was told something new. */
export async function recordReceipts(
  crossing: Crossing,
  receipts: readonly ToldPart[],
  at: Date,
): Promise<string[]> {
  // A delivered part stays delivered, whatever comes after.
  const parts = await crossing.rows<{ carrier_id: string; text_id: string | null; news: boolean }>(
    `with moved as (
       update text_part p set state = r.state, stat = r.stat, err = r.err, failure = r.failure, at = :at from ${TOLD}
        where p.carrier_id = r.carrier_id and textne(p.state, 'delivered') and p.state <> r.state returning p.carrier_id)
     select r.carrier_id, p.text_id, m.carrier_id is not null as news from unnest(:carrierIds::text[]) as r (carrier_id)
       left join text_part p on p.carrier_id = r.carrier_id left join moved m on m.carrier_id = r.carrier_id`,
    { ...toldColumns(receipts), at },
  );
  const unknown = new Set(parts.filter((part) => part.text_id === null).map((part) => part.carrier_id));
  const told = parts.filter((part) => part.news).map((part) => part.text_id!);
  if (unknown.size === 0) return told;
  const early = receipts.filter(({ carrierId }) => unknown.has(carrierId));
  return [...told, ...(await recordEarly(crossing, early, at))];
}

/**
 * A receipt whose carrier id is not known belongs to a text whose submit was never answered (found by the
 * reference it carries back and the number), or came before the answer (kept until it does).
 */
async function recordEarly(crossing: Crossing, receipts: readonly ToldPart[], at: Date): Promise<string[]> {
  const added = await crossing.rows<{ text_id: string }>(
    `with open as materialized (
       select t.* from ${TOLD} cross join lateral (
         select id, workspace_id, number, reference from text where number = r.number and lost_at is not null offset 0) as t
       union
       select t.id, t.workspace_id, t.number, t.reference from ${ON_THE_WAY} where t.number = any(:numbers)),
     added as (
       insert into text_part (text_id, workspace_id, index, carrier_id, state, stat, err, failure, at)
       select t.id, t.workspace_id, (r.reference & 15) + 1, r.carrier_id, r.state, r.stat, r.err, r.failure, :at
         from ${TOLD} join open t on t.number = r.number and t.reference >> 4 = r.reference >> 4
       on conflict do nothing returning text_id, carrier_id),
     kept as (
       insert into orphan_receipt (carrier_id, state, stat, err, failure, at)
       select r.carrier_id, r.state, r.stat, r.err, r.failure, :at from ${TOLD}
        where r.carrier_id not in (select carrier_id from added) on conflict do nothing)
     select text_id from added`,
    { ...toldColumns(receipts), at },
  );
  return added.map((row) => row.text_id);
}

/**
 * Folds parts into texts: once every part is known to the carrier a text is submitted, delivered when all parts
 * are, failed when none is open and one failed. `accepted`: texts whose submit was answered just now. Gives what
 * is settled.
 */
export async function settleTexts(
  crossing: Crossing,
  { accepted, touched, at }: { accepted: readonly string[]; touched: readonly string[]; at: Date },
): Promise<Settled[]> {
  const texts = [...new Set([...accepted, ...touched])];
  if (texts.length === 0) return [];
  return crossing.rows<Settled>(
    `with folded as (
       select p.text_id, count(*) as parts, max(p.failure) filter (where p.state = 'failed') as failure,
              case when bool_or(p.state = 'accepted') then 'submitted' when bool_and(p.state = 'delivered') then 'delivered' else 'failed' end as state
         from text_part p where p.text_id = any(:texts) group by p.text_id),
     moved as (
       update text t set state = f.state, failure = case f.state when 'failed' then f.failure end, lost_at = null,
              settled_at = case when f.state <> 'submitted' then :at end
         from folded f
        where t.id = f.text_id and t.parts = f.parts
          and ((f.state = 'submitted' and ${finds('accept')}) or (f.state = 'delivered' and ${finds('deliver')})
            or (f.state = 'failed' and ${finds('fail')}))
       returning t.id, t.workspace_id, t.person_id, t.program_id, t.broadcast_id, t.state, t.failure),
     told as (
       insert into text_event (workspace_id, text_id, event, detail, at)
       select workspace_id, id, event, detail, :at from (
         select workspace_id, id, 'accept' as event, null as detail from moved where id = any(:accepted) or state = 'submitted'
         union all
         select workspace_id, id, case state when 'delivered' then 'deliver' else 'fail' end, failure from moved where state <> 'submitted') e)
     select * from moved where state <> 'submitted'`,
    { texts, accepted, at },
  );
}

export interface Outcome {
  id: string;
  event: 'refuse' | 'lose' | 'requeue';
  failure: FailureReason | null;
  /** For a requeue: when to try again. */
  notBefore: Date | null;
}

/** What became of submits that were not taken. Gives the texts that failed for good. */
export const recordOutcomes = (
  crossing: Crossing,
  outcomes: readonly Outcome[],
  at: Date,
): Promise<Settled[]> =>
  crossing.rows<Settled>(
    `with moved as (
       update text t
          set state = case u.event when 'refuse' then 'failed' when 'lose' then 'unconfirmed' else 'queued' end,
              failure = u.failure, not_before = case u.event when 'requeue' then u.not_before end, lost_at = case u.event when 'lose' then :at end,
              worker = null, settled_at = case u.event when 'refuse' then :at end
         from unnest(:ids::text[], :events::text[], :failures::text[], :notBefores::timestamptz[]) as u (id, event, failure, not_before)
        where t.id = u.id and ${finds('refuse')}
       returning t.id, t.workspace_id, t.person_id, t.program_id, t.broadcast_id, t.state, t.failure, u.event),
     told as (
       insert into text_event (workspace_id, text_id, event, detail, at) select workspace_id, id, event, failure, :at from moved)
     select id, workspace_id, person_id, program_id, broadcast_id, state, failure from moved where state = 'failed'`,
    {
      ids: outcomes.map((o) => o.id),
      events: outcomes.map((o) => o.event),
      failures: outcomes.map((o) => o.failure),
      notBefores: outcomes.map((o) => o.notBefore),
      at,
    },
  );

/** Advisory lock class: a worker holds (class, its id) as long as it lives, and PostgreSQL lets go when it dies. */
export const WORKER_LOCK = 7301;

/** Texts whose worker died between marking and hearing an answer: nobody knows, so they are unconfirmed. */
export const loseOrphans = (crossing: Crossing, at: Date): Promise<number> =>
  crossing.run(
    `with alive as materialized (
       select l.objid::bigint as worker from pg_locks l where l.locktype = 'advisory' and l.classid = ${WORKER_LOCK} and l.granted),
     over as (
       delete from departure d where not exists (select 1 from alive where alive.worker = d.worker) returning d.texts),
     moved as (
       update text t set state = 'unconfirmed', lost_at = :at from over cross join lateral unnest(over.texts) as u (id)
        where t.id = u.id and ${finds('lose')} returning t.id, t.workspace_id)
     insert into text_event (workspace_id, text_id, event, detail, at) select workspace_id, id, 'lose', 'worker ended', :at from moved`,
    { at },
  );

export interface SilentText {
  id: string;
  submitted_at: Date;
  come: number;
  missing: number;
}

/** Unconfirmed texts of dead workers that are old enough to settle, with the receipts of their neighbours. */
export const silentTexts = (crossing: Crossing, before: Date, most: number): Promise<SilentText[]> =>
  crossing.rows<SilentText>(
    `select t.id, t.submitted_at, n.come::int, n.missing::int from text t
      cross join lateral (
        select count(*) filter (where o.state in ('delivered', 'failed')) as come, count(*) filter (where o.state = 'submitted') as missing
          from text o where o.workspace_id = t.workspace_id and o.id <> t.id
           and o.submitted_at between t.submitted_at - interval '1 hour' and t.submitted_at + interval '1 hour') n
      where t.lost_at is not null and t.worker is not null and t.submitted_at < :before
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
    `with moved as (
       update text t set state = case when u.requeue then 'queued' else 'unconfirmed' end, worker = null,
              not_before = case when u.requeue then :at end, lost_at = case when not u.requeue then t.lost_at end
         from unnest(:ids::text[], :requeue::boolean[]) as u (id, requeue) where t.id = u.id and t.state = 'unconfirmed'
       returning t.id, t.workspace_id, u.requeue)
     insert into text_event (workspace_id, text_id, event, detail, at)
     select workspace_id, id, 'requeue', 'proved not taken', :at from moved where requeue`,
    { ids, requeue, at },
  );

export const linkUpSince = async (crossing: Crossing): Promise<Date | null> => {
  const [row] = await crossing.rows<{ since: Date | null }>(
    `select min(w.link_up_since) as since from worker w where w.link_state = 'up' and exists (
       select 1 from pg_locks l where l.locktype = 'advisory' and l.classid = ${WORKER_LOCK} and l.objid = w.id and l.granted)`,
  );
  return row?.since ?? null;
};

/** Wakes the screens of the workspaces these rows belong to. */
export const announceAll = (
  crossing: Crossing,
  workspaceIds: readonly string[],
  channel: string,
): Promise<object[]> =>
  crossing.rows(
    `select pg_notify('${channel}', w) from (select distinct unnest(:workspaces::text[]) as w) d`,
    { workspaces: workspaceIds },
  );
