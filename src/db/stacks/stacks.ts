import type { TextState } from '@/core/delivery/lifecycle';
import type { Channel } from '@/core/message/channel';
import type { Crossing, Scope } from '@/db/kit/scope';

/** A message waits for somebody to press it. */
const WAITS = `m.turn_at is not null and m.not_before is not null`;
/** And nobody did, nor passed them over. */
const OPEN = `r.pressed_at is null and r.skipped_at is null`;

/** Which stack a link opens, in which workspace; null: none, it has ended, or it was never one. */
export async function stackByKey(
  crossing: Crossing,
  hash: string,
  at: Date,
): Promise<{ id: string; workspace_id: string } | null> {
  const [row] = await crossing.rows<{ id: string; workspace_id: string }>(
    `select id, workspace_id from stack where key_hash = :hash and ended_at is null and key_ends_at > :at`,
    { hash, at },
  );
  return row ?? null;
}

/** Messages of a broadcast that wait to be pressed and lie in no row yet get one, nobody’s. Gives how many. */
export const addRows = (scope: Scope, sendId: string): Promise<number> =>
  scope.run(
    `insert into stack_row (message_id, workspace_id, send_id, rank)
     select m.id, :workspace, :sendId, coalesce((select max(rank) from stack_row where workspace_id = :workspace and send_id = :sendId), 0) + row_number() over (order by m.turn_at, m.id)
       from message m where m.workspace_id = :workspace and m.send_id = :sendId and ${WAITS} and not exists (select 1 from stack_row r where r.message_id = m.id) on conflict (message_id) do nothing`,
    { sendId },
  );

/** What lies in no stack, in order, with where each lives by their number. Held until the transaction ends. */
export const loose = (scope: Scope, sendId: string): Promise<{ id: string; area: string }[]> =>
  scope.rows(
    `select r.message_id as id, coalesce(p.region, '') || ' ' || left(m.address, 5) as area from stack_row r join message m on m.id = r.message_id join person p on p.workspace_id = m.workspace_id and p.id = m.person_id
      where r.workspace_id = :workspace and r.send_id = :sendId and r.stack_id is null and ${OPEN} order by r.rank for update of r skip locked`,
    { sendId },
  );

export const putInto = (scope: Scope, rows: readonly { id: string; stackId: string }[]): Promise<number> =>
  scope.run(
    `update stack_row r set stack_id = u.stack from unnest(:ids::text[], :stacks::text[]) as u (id, stack)
      where r.workspace_id = :workspace and r.message_id = u.id and ${OPEN}`,
    { ids: rows.map(({ id }) => id), stacks: rows.map(({ stackId }) => stackId) },
  );

/** Somebody takes the next ones that are nobody’s. */
export const takeNext = (scope: Scope, sendId: string, stackId: string, most: number): Promise<number> =>
  scope.run(
    `update stack_row set stack_id = :stackId where message_id in (
       select r.message_id from stack_row r join message m on m.id = r.message_id where r.workspace_id = :workspace and r.send_id = :sendId and r.stack_id is null and ${OPEN} and ${WAITS}
        order by r.rank limit :most for update of r skip locked)`,
    { sendId, stackId, most },
  );

/** What was not pressed is nobody’s again, or another’s. Gives how many. @param most of the last ones; null: all */
export const giveRows = (
  scope: Scope,
  { from, to, most }: { from: string; to: string | null; most: number | null },
): Promise<number> =>
  scope.run(
    `update stack_row set stack_id = :to where message_id in (
       select r.message_id from stack_row r where r.workspace_id = :workspace and r.stack_id = :from and ${OPEN} order by r.rank desc limit :most for update)`,
    { from, to, most },
  );

/** Somebody to press the text to, as the desk shows them. */
export interface AtHand {
  id: string;
  person_id: string;
  first_name: string | null;
  last_name: string | null;
  address: string;
  body: string;
}

/** Who is next in a stack. Who is held is not offered before their time, who is blocked never. */
export const atHand = (scope: Scope, stackId: string, at: Date, most: number): Promise<AtHand[]> =>
  scope.rows<AtHand>(
    `select m.id, m.person_id, p.first_name, p.last_name, m.address, m.body from stack_row r join message m on m.id = r.message_id join person p on p.workspace_id = m.workspace_id and p.id = m.person_id
      where r.workspace_id = :workspace and r.stack_id = :stackId and ${OPEN} and ${WAITS} and m.turn_at <= :at order by r.rank limit :most`,
    { stackId, at, most },
  );

/**
 * A broadcast that is pressed is not late: what waits in a stack waits for a human. Said now and then: thirty who press at
 * once would wait for each other.
 */
const NOT_LATE = `update send set began_at = :at where workspace_id = :workspace and id = :sendId and (began_at is null or began_at < :at::timestamptz - interval '1 minute')`;

/**
 * Presses: these messages of a stack have their turn, each once, whoever asks how often. Gives those that had it now; what
 * is another’s, was pressed, is held, or waits while the broadcast is paused has none.
 */
export const pressRows = (
  scope: Scope,
  { stackId, sendId }: { stackId: string; sendId: string },
  ids: readonly string[],
  at: Date,
): Promise<{ id: string; person_id: string }[]> =>
  scope.rows<{ id: string; person_id: string }>(
    `with pressed as (
       update message m set not_before = :at, turn_at = null from stack_row r, send s
        where m.id = any(:ids::text[]) and r.message_id = m.id and r.workspace_id = :workspace and r.stack_id = :stackId and ${OPEN} and ${WAITS} and m.turn_at <= :at
          and s.id = m.send_id and s.workspace_id = :workspace and s.goes = 'on' returning m.id, m.person_id),
     told as (update stack_row r set pressed_at = :at, pressed_by = :stackId from pressed p where r.message_id = p.id),
     heard as (update stack set heard_at = :at where workspace_id = :workspace and id = :stackId and exists (select from pressed)),
     not_late as (${NOT_LATE} and exists (select from pressed))
     select id, person_id from pressed`,
    { ids: [...ids], stackId, sendId, at },
  );

/** A message of a stack that can still be changed, with what its send allows; null: it was pressed, is held, or is another's. */
export async function lockUnpressed(
  scope: Scope,
  { stackId, id }: { stackId: string; id: string },
): Promise<{
  body: string;
  parts: number;
  credits: number;
  media: string[] | null;
  channel: Channel;
} | null> {
  const [row] = await scope.rows<{
    body: string;
    parts: number;
    credits: number;
    media: string[] | null;
    channel: Channel;
  }>(
    `select m.body, m.parts, m.credits, m.media, m.channel from message m join stack_row r on r.message_id = m.id
      where m.workspace_id = :workspace and m.id = :id and r.stack_id = :stackId and ${OPEN} and ${WAITS} for update of m, r`,
    { stackId, id },
  );
  return row ?? null;
}

/** Puts other words into a message that was not pressed. */
export async function adaptRow(
  scope: Scope,
  {
    id,
    ...words
  }: { id: string; body: string; bodyHash: string; alphabet: string | null; parts: number; credits: number },
): Promise<void> {
  await scope.run(
    `update message set body = :body, body_hash = :bodyHash, alphabet = :alphabet, parts = :parts, credits = :credits where workspace_id = :workspace and id = :id`,
    { id, ...words },
  );
  await scope.run(
    `update stack_row set adapted = true where workspace_id = :workspace and message_id = :id`,
    { id },
  );
}

/** Passed over: they get nothing of it. Gives how many. */
export async function skipRow(
  scope: Scope,
  { stackId, id, why, at }: { stackId: string; id: string; why: string; at: Date },
): Promise<number> {
  return scope.run(
    `update stack_row r set skipped_at = :at, skipped_why = :why from message m
      where r.workspace_id = :workspace and r.message_id = :id and r.stack_id = :stackId and ${OPEN} and m.id = r.message_id and ${WAITS}`,
    { stackId, id, why, at },
  );
}

/** What was pressed and held back when it left waits in its stack again. */
export const returnHeld = (crossing: Crossing): Promise<number> =>
  crossing.run(
    `update stack_row r set pressed_at = null, pressed_by = null from message m
      where r.pressed_at is not null and m.id = r.message_id and ${WAITS}`,
  );

/** One stack on the manager’s page. */
export interface StackCounts {
  id: string;
  account_id: string | null;
  name: string;
  takes: number | null;
  key_ends_at: Date | null;
  sees_numbers: boolean;
  ended_at: Date | null;
  heard_at: Date | null;
  created_at: Date;
  to_send: number;
  /** Of those: held until their hour. */
  held: number;
  pressed: number;
  skipped: number;
  /** Pressed with words of their own. */
  adapted: number;
  /** Pressed and gone. */
  sent: number;
  replied: number;
  waiting: number;
  left: number;
  /** In the last five minutes. */
  lately: number;
}

export const stackCounts = (scope: Scope, sendId: string, at: Date): Promise<StackCounts[]> =>
  scope.rows<StackCounts>(
    `select s.id, s.account_id, s.name, s.takes, s.key_ends_at, s.sees_numbers, s.ended_at, s.heard_at, s.created_at,
            count(*) filter (where ${OPEN} and ${WAITS})::int as to_send, count(*) filter (where ${OPEN} and ${WAITS} and m.turn_at > :at)::int as held,
            count(*) filter (where r.pressed_at is not null)::int as pressed, count(*) filter (where r.skipped_at is not null)::int as skipped,
            count(*) filter (where r.pressed_at is not null and r.adapted)::int as adapted,
            count(*) filter (where r.pressed_at is not null and m.submitted_at is not null)::int as sent,
            count(*) filter (where exists (select 1 from inbound_text i where i.after_text_id = m.id and i.meaning in ('reply', 'unclear', 'answer')))::int as replied,
            count(*) filter (where r.pressed_at is not null and p.waiting_since is not null)::int as waiting,
            count(*) filter (where exists (select 1 from inbound_text i where i.after_text_id = m.id and i.meaning = 'opt-out'))::int as left,
            count(*) filter (where r.pressed_at > :at::timestamptz - interval '5 minutes')::int as lately
       from stack s left join stack_row r on r.stack_id = s.id left join message m on m.id = r.message_id left join person p on p.workspace_id = m.workspace_id and p.id = m.person_id
      where s.workspace_id = :workspace and s.send_id = :sendId group by s.id order by s.created_at, s.id`,
    { sendId, at },
  );

/** What is nobody’s, and what is not to be pressed at all. */
export async function looseCounts(scope: Scope, sendId: string): Promise<{ loose: number; blocked: number }> {
  const [row] = await scope.rows<{ loose: number; blocked: number }>(
    `select count(*) filter (where ${WAITS} and (r.message_id is null or (r.stack_id is null and r.skipped_at is null)))::int as loose, count(*) filter (where m.state = 'blocked')::int as blocked
       from message m left join stack_row r on r.message_id = m.id where m.workspace_id = :workspace and m.send_id = :sendId`,
    { sendId },
  );
  return row!;
}

/** How many that were pressed have not left yet: the numbers are slower than the hand. */
export async function leaving(scope: Scope, sendId: string): Promise<number> {
  const [row] = await scope.rows<{ n: number }>(
    `select count(*)::int as n from message where workspace_id = :workspace and send_id = :sendId and state = 'queued' and turn_at is null and not_before is not null`,
    { sendId },
  );
  return row!.n;
}

/** People of a stack who wait for an answer, the longest first. */
export const repliesOf = (
  scope: Scope,
  stackId: string,
): Promise<
  { person_id: string; first_name: string | null; last_name: string | null; since: Date; words: string }[]
> =>
  scope.rows(
    `select p.id as person_id, p.first_name, p.last_name, p.waiting_since as since, i.body as words from stack_row r join message m on m.id = r.message_id
       join person p on p.workspace_id = m.workspace_id and p.id = m.person_id and p.waiting_since is not null
       join lateral (select body from inbound_text where workspace_id = :workspace and person_id = p.id order by at desc, id desc limit 1) i on true
      where r.workspace_id = :workspace and r.stack_id = :stackId and r.pressed_at is not null and r.passed_on_at is null order by p.waiting_since limit 100`,
    { stackId },
  );

/** What somebody in a stack of this wrote and got of this broadcast, for who is invited: nothing else of them. */
export const talkOf = (
  scope: Scope,
  { stackId, personId }: { stackId: string; personId: string },
): Promise<{ id: string; direction: 'in' | 'out'; at: Date; body: string }[]> =>
  scope.rows(
    `with own as (select r.pressed_at as since from stack_row r join message m on m.id = r.message_id where r.workspace_id = :workspace and r.stack_id = :stackId and m.person_id = :personId and r.pressed_at is not null limit 1)
     select * from (
       select id, 'out' as direction, coalesce(submitted_at, message.created_at) as at, body from message, own where workspace_id = :workspace and person_id = :personId and coalesce(submitted_at, message.created_at) >= own.since and state not in ('cancelled', 'blocked')
       union all select id, 'in', at, body from inbound_text, own where workspace_id = :workspace and person_id = :personId and at >= own.since) both_ways order by at, id limit 200`,
    { stackId, personId },
  );

/** Somebody of this stack is answered by another. False: they are none of its people. */
export const passOn = async (
  scope: Scope,
  { stackId, personId, at }: { stackId: string; personId: string; at: Date },
): Promise<boolean> =>
  (await scope.run(
    `update stack_row r set passed_on_at = :at from message m
      where r.workspace_id = :workspace and r.stack_id = :stackId and m.id = r.message_id and m.person_id = :personId and r.pressed_at is not null`,
    { stackId, personId, at },
  )) > 0;

/** Somebody a text was pressed to, and what came of it. */
export interface PressedRow {
  person_id: string;
  first_name: string | null;
  last_name: string | null;
  address: string;
  body: string;
  adapted: boolean;
  state: TextState;
  pressed_at: Date;
  /** What they last wrote since, and when; null: nothing. */
  words: string | null;
  wrote_at: Date | null;
  waits: boolean;
  passed_on: boolean;
  /** When somebody last answered by hand since. */
  answered_at: Date | null;
}

/** What was pressed in a stack: who wrote back first, then what was pressed last. */
export const pressedOf = (scope: Scope, stackId: string, most: number): Promise<PressedRow[]> =>
  scope.rows<PressedRow>(
    `select m.person_id, p.first_name, p.last_name, m.address, m.body, r.adapted, m.state, r.pressed_at, i.body as words, i.at as wrote_at, p.waiting_since is not null as waits,
            r.passed_on_at is not null as passed_on, a.at as answered_at
       from stack_row r join message m on m.id = r.message_id join person p on p.workspace_id = m.workspace_id and p.id = m.person_id and p.erased_at is null
       left join lateral (select body, at from inbound_text where workspace_id = :workspace and person_id = m.person_id and at >= r.pressed_at order by at desc, id desc limit 1) i on true
       left join lateral (select max(created_at) as at from message where workspace_id = :workspace and person_id = m.person_id and kind = 'answer' and created_at >= r.pressed_at and state <> 'cancelled') a on true
      where r.workspace_id = :workspace and r.stack_id = :stackId and r.pressed_at is not null
      order by i.at desc nulls last, r.pressed_at desc limit :most`,
    { stackId, most },
  );
