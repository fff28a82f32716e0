import type { Timing } from '@/core/broadcast/timing';
import type { SendGoes } from '@/core/message/send';
import type { MessageKind } from '@/core/message/kinds';
import type { Alphabet } from '@/core/text/measure';
import type { Channel } from '@/core/message/channel';
import type { Crossing, Scope, SqlValue } from '@/db/kit/scope';
import { finds, HERE, WAITS } from './text-moves';
import { callBack, PRIORITIES } from './texts';

/** What a message is carried as: words leave over one link, files with their words over another. */
export type Carriage = 'words' | 'pictures';

/** As the indexes of what waits tell them apart. */
const CARRIED: Record<Carriage, string> = { words: 'media is null', pictures: 'media is not null' };

export interface DueSender {
  id: string;
  parts_per_second: number;
  next_free_at: Date;
  /** The priorities of what is due. */
  priorities: number[];
}

/**
 * Sender numbers of one carrier with something due, locked so that one worker at a time paces each; and whether anything is
 * due that has no number yet. The lock leaves keys alone: a text to a number that is being stored in another transaction
 * shares that lock, and with many of them a number would be passed over again and again.
 */
export async function lockDueSenders(
  crossing: Crossing,
  { channel, carriage, carrier }: Line,
  now: Date,
): Promise<{ senders: DueSender[]; unnumbered: boolean }> {
  const rows = await crossing.rows<DueSender | { id: null }>(
    `with locked as (
       select s.id, s.parts_per_second, s.next_free_at, due.priorities from sender_number s
        cross join lateral (
          select array_agg(p.priority) as priorities from unnest(:priorities::smallint[]) as p (priority) where (${anyDue(carriage, 't.sender_id = s.id')})) as due
        where s.next_free_at <= :now + interval '1 second' and due.priorities is not null ${OF_CARRIER}
        order by s.id for no key update of s skip locked)
     select * from locked
     union all
     select null, null, null, null
      where exists (select 1 from unnest(:priorities::smallint[]) as p (priority) where (${anyDue(carriage, 't.sender_id is null and t.channel = :channel')}))`,
    { now, priorities: PRIORITIES, channel, carrier: carrier ?? null },
  );
  const senders = rows.filter((row): row is DueSender => row.id !== null);
  return { senders, unnumbered: senders.length < rows.length };
}

/** One that is due is enough to know: as `exists`, or in no order, the planner, which remembers none, would read them all. */
const anyDue = (carriage: Carriage, which: string): string =>
  `select true from message t where ${which} and t.priority = p.priority and t.not_before <= :now and t.${CARRIED[carriage]} order by t.sender_id, t.priority, t.not_before limit 1`;

const OF_CARRIER = `and (:carrier::text is null or s.carrier_id = :carrier)`;

export interface DueText {
  id: string;
  workspace_id: string;
  person_id: string;
  program_id: string;
  send_id: string | null;
  /** Of a sequence's message. */
  enrolment_id: string | null;
  in_reply_to: string | null;
  kind: MessageKind;
  address: string;
  sender_id: string | null;
  body: string;
  body_hash: string;
  /** Of a text. */
  alphabet: Alphabet | null;
  parts: number;
  credits: number;
  attempts: number;
  /** When it was tried first; null: never. */
  submitted_at: Date | null;
  created_at: Date;
  media: string[] | null;
}

const DUE_COLUMNS =
  'id, workspace_id, person_id, program_id, send_id, enrolment_id, in_reply_to, kind, address, sender_id, body, body_hash, alphabet, parts, credits, attempts, submitted_at, created_at, media, not_before';

/**
 * Texts of one sender whose time has come, most urgent first, locked until this transaction ends. Each priority is
 * walked in the order of time, so that what is held until morning is never looked at.
 */
export const lockDueTexts = (
  crossing: Crossing,
  senderId: string,
  carriage: Carriage,
  priorities: readonly number[],
  now: Date,
  most: number,
): Promise<DueText[]> =>
  lockDue(crossing, `sender_id = :senderId and ${CARRIED[carriage]}`, { senderId, priorities, now, most });

/** The same of what leaves by a channel from no number: every e-mail, and texts that found none when they were queued. */
export const lockUnsentTexts = (
  crossing: Crossing,
  { channel, carriage }: Line,
  now: Date,
  most: number,
): Promise<DueText[]> =>
  lockDue(crossing, `sender_id is null and channel = :channel and ${CARRIED[carriage]}`, {
    channel,
    priorities: PRIORITIES,
    now,
    most,
  });

/** By which way out messages leave. */
export interface Line {
  channel: Channel;
  carriage: Carriage;
  /** Whose numbers they leave from; absent: any, or none. */
  carrier?: string;
}

/** The order is that of the index in all its columns: of `sender_id is null` the planner does not know that all are alike. */
const lockDue = (
  crossing: Crossing,
  which: string,
  values: { priorities: readonly number[]; now: Date; most: number } & Record<string, SqlValue>,
): Promise<DueText[]> =>
  crossing.rows<DueText>(
    `select due.* from unnest(:priorities::smallint[]) as p (priority) cross join lateral (
       select ${DUE_COLUMNS} from message where ${which} and priority = p.priority and not_before <= :now
        order by sender_id, priority, not_before limit :most for update skip locked) as due
      order by p.priority, due.not_before limit :most`,
    values,
  );

/** One text, if it is due and nobody holds it. */
export const lockDueText = (crossing: Crossing, id: string, now: Date): Promise<DueText[]> =>
  crossing.rows<DueText>(
    `select ${DUE_COLUMNS} from message where id = :id and not_before <= :now for update skip locked`,
    { id, now },
  );

/** Ids of texts that are due, the most urgent of each workspace first. */
export const dueTextIds = (
  crossing: Crossing,
  { channel, carriage, carrier }: Line,
  now: Date,
  most: number,
): Promise<{ id: string; workspace_id: string; parts: number }[]> =>
  crossing.rows(
    `select id, workspace_id, parts from message t where not_before <= :now and channel = :channel and ${CARRIED[carriage]}
        and (sender_id is null or :carrier::text is null or exists (select 1 from sender_number s where s.id = t.sender_id and s.carrier_id = :carrier))
      order by row_number() over (partition by workspace_id order by priority, not_before) limit :most`,
    { channel, carrier: carrier ?? null, now, most },
  );

/** A text that cannot be worked on is looked at again then; null: not before somebody says so. */
export const postponeText = (crossing: Crossing, id: string, next: Date | null): Promise<number> =>
  crossing.run(
    `update message set not_before = coalesce(:next::timestamptz, ${WAITS}) where id = :id and not_before is not null`,
    { id, next },
  );

/** Texts that found no number when they were queued have one now: they leave within its pace, as its others do. */
export const giveNumbers = (
  scope: Scope,
  texts: readonly { id: string; senderId: string }[],
): Promise<number> =>
  scope.run(
    `update message t set sender_id = u.sender_id from unnest(:ids::text[], :senders::text[]) as u (id, sender_id)
      where t.id = u.id and ${HERE} and texteq(t.state, 'queued')`,
    { ids: texts.map(({ id }) => id), senders: texts.map(({ senderId }) => senderId) },
  );

/** Calls one text back that waits. */
export const cancelOne = (scope: Scope, id: string, at: Date): Promise<number> =>
  callBack(scope, 'id = :id', { id }, at, 'given up');

/** One that waits is due at once. */
export const sendAgainNow = (scope: Scope, id: string, now: Date): Promise<number> =>
  scope.run(
    `update message set not_before = :now where workspace_id = :workspace and id = :id and not_before is not null`,
    { id, now },
  );

export interface SendState {
  id: string;
  goes: SendGoes;
  /** When it began, or was resumed. */
  began: Date | null;
  /** How it goes; null: at once. */
  timing: Timing | null;
}

export const sendStates = (scope: Scope, ids: readonly string[]): Promise<SendState[]> =>
  scope.rows<SendState>(
    `select id, goes, began_at as began, timing from send where workspace_id = :workspace and id = any(:ids::text[])`,
    { ids },
  );

/** Texts of sends that are over are called back; those of paused ones wait. */
export const giveUpSends = (
  scope: Scope,
  over: readonly string[],
  waiting: readonly string[],
  at: Date,
): Promise<number> =>
  scope.run(
    `with gone as (
       update message t set state = case when t.id = any(:over::text[]) then 'cancelled' else t.state end,
              not_before = case when t.id = any(:over::text[]) then null else ${WAITS} end,
              settled_at = case when t.id = any(:over::text[]) then :at::timestamptz end
        where t.id = any(:over::text[] || :waiting::text[]) and ${HERE} and texteq(t.state, 'queued') returning t.id, t.state)
     insert into message_event (workspace_id, message_id, event, detail, at)
     select :workspace, id, 'cancel', 'its send is over', :at from gone where state = 'cancelled'`,
    { over, waiting, at },
  );

/** From when numbers may send again. */
export const paceSenders = (crossing: Crossing, nextFreeAt: ReadonlyMap<string, Date>): Promise<number> =>
  crossing.run(
    `update sender_number s set next_free_at = u.at from unnest(:ids::text[], :instants::timestamptz[]) as u (id, at) where s.id = u.id`,
    { ids: [...nextFreeAt.keys()], instants: [...nextFreeAt.values()] },
  );

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
  senderId: string | null;
  reference: number | null;
  /** What it costs as it leaves; null: it was paid. */
  credits: number | null;
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
       update message t set state = 'submitting', not_before = null, worker = :worker, attempts = t.attempts + 1, sender_id = u.sender_id,
              reference = u.reference, clearance = (:clearances::jsonb[])[u.clearance], submitted_at = :at, failure = null, credits = coalesce(u.credits, t.credits)
         from unnest(:ids::text[], :senders::text[], :references::int[], :nth::int[], :credits::int[]) as u (id, sender_id, reference, clearance, credits)
        where t.id = u.id and ${HERE} and ${finds('write')} returning t.id),
     told as (
       insert into message_event (workspace_id, message_id, event, at) select :workspace, id, 'write', :at from moved)
     insert into departure (workspace_id, worker, texts, unanswered, at)
     select :workspace, :worker::int, array_agg(id), count(*), :at from moved returning id`,
    {
      ids: texts.map((text) => text.id),
      senders: texts.map((text) => text.senderId),
      references: texts.map((text) => text.reference),
      nth: texts.map((text) => nth.get(text.clearance)!),
      credits: texts.map((text) => text.credits),
      clearances,
      worker,
      at,
    },
  );
  return departure!.id;
}

export const markBlocked = (scope: Scope, texts: readonly Decided[], at: Date): Promise<number> =>
  scope.run(
    `with moved as (
       update message t set state = 'blocked', not_before = null, clearance = u.clearance, settled_at = :at
         from unnest(:ids::text[], :clearances::jsonb[]) as u (id, clearance)
        where t.id = u.id and ${HERE} and ${finds('block')} returning t.id)
     insert into message_event (workspace_id, message_id, event, at) select :workspace, id, 'block', :at from moved`,
    { ids: texts.map((text) => text.id), clearances: texts.map((text) => text.clearance), at },
  );

export interface Holding extends Decided {
  notBefore: Date;
  /** Its send has a pace: it waits for its turn again. */
  inTurn: boolean;
}

export const holdTexts = (scope: Scope, texts: readonly Holding[]): Promise<number> =>
  scope.run(
    `update message t set clearance = u.clearance, not_before = case when u.in_turn then ${WAITS} else u.not_before end,
            turn_at = case when u.in_turn then u.not_before end
       from unnest(:ids::text[], :clearances::jsonb[], :notBefores::timestamptz[], :inTurn::boolean[]) as u (id, clearance, not_before, in_turn)
      where t.id = u.id and ${HERE} and texteq(t.state, 'queued')`,
    {
      ids: texts.map((text) => text.id),
      clearances: texts.map((text) => text.clearance),
      notBefores: texts.map((text) => text.notBefore),
      inTurn: texts.map((text) => text.inTurn),
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

/** Gives people another number for good, in place of the one they knew. Gives who was moved: of two workers that do it at once, one moves them. */
export const moveAssignments = (
  scope: Scope,
  rows: readonly { personId: string; programId: string; senderId: string }[],
  at: Date,
): Promise<{ person_id: string }[]> =>
  scope.rows(
    `update sender_assignment a set before = a.sender_id, sender_id = u.sender_id, since = :at
       from unnest(:people::text[], :programs::text[], :senders::text[]) as u (person_id, program_id, sender_id)
      where a.workspace_id = :workspace and a.person_id = u.person_id and a.program_id = u.program_id and a.sender_id <> u.sender_id returning a.person_id`,
    {
      people: rows.map((r) => r.personId),
      programs: rows.map((r) => r.programId),
      senders: rows.map((r) => r.senderId),
      at,
    },
  );
