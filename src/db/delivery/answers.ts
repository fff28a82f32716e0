import type { ReceiptIds } from '@/core/delivery/carrier-id';
import { HOUSE } from '@/core/delivery/carrier-profile';
import type { FailureReason } from '@/core/delivery/failure';
import type { Channel } from '@/core/message/channel';
import { toJson } from '@/db/kit/json';
import type { Crossing } from '@/db/kit/scope';
import { finds, ITS_SEND, WAITS } from './text-moves';

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
 * the carrier ids of the parts that were new: what was told of the others is still to be applied. An id that the
 * carrier gave before belongs to the part it gave it last: what it tells of that id from now on is hardly of the other.
 */
export async function recordTaken(
  crossing: Crossing,
  parts: readonly TakenPart[],
  at: Date,
): Promise<string[]> {
  const carrierIds = parts.map((part) => part.carrierId);
  let added = await insertParts(crossing, parts, at);
  while (added.length < parts.length && (await freeIds(crossing, parts)) > 0)
    added = [...added, ...(await insertParts(crossing, parts, at))];
  // A delivered part stays delivered, whatever came before.
  await crossing.run(
    `with known as (delete from orphan_receipt where carrier_id = any(:carrierIds) returning *)
     update text_part p set state = k.state, stat = k.stat, err = k.err, failure = k.failure, at = k.at
       from known k where p.carrier_id = k.carrier_id and textne(p.state, 'delivered')`,
    { carrierIds },
  );
  return added;
}

/** Takes ids from the parts that had them before, which keep what is known of them. Gives how many. */
const freeIds = (crossing: Crossing, parts: readonly TakenPart[]): Promise<number> =>
  crossing.run(
    `update text_part p set carrier_id = p.carrier_id || ' of ' || p.text_id || ' ' || p.index
       from unnest(:texts::text[], :indexes::smallint[], :carrierIds::text[]) as u (text_id, index, carrier_id)
      where p.carrier_id = u.carrier_id and (p.text_id, p.index) <> (u.text_id, u.index)
        and not exists (select 1 from text_part known where known.text_id = u.text_id and known.index = u.index)`,
    {
      texts: parts.map((p) => p.textId),
      indexes: parts.map((p) => p.index),
      carrierIds: parts.map((p) => p.carrierId),
    },
  );

async function insertParts(crossing: Crossing, parts: readonly TakenPart[], at: Date): Promise<string[]> {
  const added = await crossing.rows<{ carrier_id: string }>(
    `insert into text_part (text_id, workspace_id, index, carrier_id, state, stat, err, failure, at)
     select u.*, :at from unnest(:texts::text[], :workspaces::text[], :indexes::smallint[], :carrierIds::text[], :states::text[], :stats::text[], :errs::text[], :failures::text[]) as u
     on conflict do nothing returning carrier_id`,
    {
      texts: parts.map((p) => p.textId),
      workspaces: parts.map((p) => p.workspaceId),
      indexes: parts.map((p) => p.index),
      carrierIds: parts.map((p) => p.carrierId),
      states: parts.map((p) => p.told?.state ?? 'accepted'),
      stats: parts.map((p) => p.told?.stat ?? null),
      errs: parts.map((p) => p.told?.err ?? null),
      failures: parts.map((p) => p.told?.failure ?? null),
      at,
    },
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
  /** Which carrier told it. */
  carrier: string;
  otherIds: readonly { ids: ReceiptIds; id: string }[];
}

export interface Settled {
  id: string;
  workspace_id: string;
  person_id: string;
  program_id: string;
  send_id: string | null;
  channel: Channel;
  address: string;
  state: 'delivered' | 'failed';
  failure: FailureReason | null;
}

const TOLD = `unnest(:carrierIds::text[], :states::text[], :stats::text[], :errs::text[], :failures::text[], :numbers::text[], :references::int[], :carriers::text[], :others::jsonb[])
  as r (carrier_id, state, stat, err, failure, number, reference, carrier, other_ids)`;

const toldColumns = (receipts: readonly ToldPart[]) => ({
  carrierIds: receipts.map((r) => r.carrierId),
  states: receipts.map((r) => r.state),
  stats: receipts.map((r) => r.stat),
  errs: receipts.map((r) => r.err),
  failures: receipts.map((r) => r.failure),
  numbers: receipts.map((r) => r.number),
  references: receipts.map((r) => r.reference),
  carriers: receipts.map((r) => r.carrier),
  others: receipts.map((r) => (r.otherIds.length > 0 ? toJson(r.otherIds) : null)),
});

/** The texts that a receipt (`r`) can be of though its id is not known: those of which no answer is awaited any more. */
const UNANSWERED = `select m.id, m.workspace_id from message m join sender_number s on s.id = m.sender_id and s.carrier_id = r.carrier
  where m.address = r.number and m.lost_at is not null and m.reference >> 4 = r.reference >> 4`;

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
  const newsOf = parts.filter((part) => part.news).map((part) => part.text_id!);
  if (unknown.size === 0) return newsOf;
  const early = receipts.filter(({ carrierId }) => unknown.has(carrierId));
  return [...newsOf, ...(await recordEarly(crossing, early, at))];
}

/**
 * A receipt whose carrier id is not known belongs to a text whose submit was never answered (found by the
 * reference it carries back and the number, among those this carrier carries), or came before the answer (kept until it
 * does, or is known never to). A text that still waits for its answer is left alone: whoever stores the answer holds the part.
 */
async function recordEarly(crossing: Crossing, receipts: readonly ToldPart[], at: Date): Promise<string[]> {
  const added = await crossing.rows<{ text_id: string }>(
    `with added as (
       insert into text_part (text_id, workspace_id, index, carrier_id, state, stat, err, failure, at)
       select t.id, t.workspace_id, (r.reference & 15) + 1, r.carrier_id, r.state, r.stat, r.err, r.failure, :at
         from ${TOLD} cross join lateral (${UNANSWERED}) as t
       on conflict do nothing returning text_id, carrier_id),
     kept as (
       insert into orphan_receipt (carrier_id, state, stat, err, failure, at, carrier, number, reference, other_ids)
       select r.carrier_id, r.state, r.stat, r.err, r.failure, :at, r.carrier, r.number, r.reference, r.other_ids from ${TOLD}
        where r.carrier_id not in (select carrier_id from added) on conflict do nothing)
     select text_id from added`,
    { ...toldColumns(receipts), at },
  );
  return added.map((row) => row.text_id);
}

/** Of receipts that nothing but their words marks as such, those that come from where their text went. */
export async function fromWhereItWent(
  crossing: Crossing,
  receipts: readonly ToldPart[],
): Promise<ToldPart[]> {
  const elsewhere = await crossing.rows<{ carrier_id: string }>(
    `select p.carrier_id from ${TOLD} join text_part p on p.carrier_id = r.carrier_id join message m on m.id = p.text_id and m.address <> r.number`,
    toldColumns(receipts),
  );
  const forged = new Set(elsewhere.map((row) => row.carrier_id));
  return receipts.filter(({ carrierId }) => !forged.has(carrierId));
}

interface OrphanRow {
  carrier_id: string;
  /** As it was told, and in which way: null, as it is. */
  told_id: string;
  ids: ReceiptIds | null;
  state: 'delivered' | 'failed';
  stat: string;
  err: string;
  failure: FailureReason | null;
  carrier: string | null;
}

interface UnansweredRow extends Omit<OrphanRow, 'told_id' | 'ids'> {
  number: string;
  reference: number;
  other_ids: ToldPart['otherIds'] | null;
}

/** A receipt that found its text after all. */
export interface Joined extends ToldPart {
  toldId: string;
  /** The way in which its id was told, where it was not as it is. */
  ids: ReceiptIds | null;
}

/**
 * Receipts that were kept because their part was not known, and whose part is known now: the receipt came over one
 * worker's link while the answer came over another's, and neither saw the other's row before it committed. Or their carrier
 * tells ids in a way of its own: then another meaning of the id, and the number, find the part; not before the part of that very
 * id had time to come. They are taken out of where they are kept.
 */
export const takeJoinableReceipts = async (
  crossing: Crossing,
  patience: Date,
  most: number,
): Promise<Joined[]> =>
  (
    await crossing.rows<OrphanRow>(
      `with known as (${JOINABLE} for update of o skip locked)
       delete from orphan_receipt o using known k where o.carrier_id = k.told_id returning k.*`,
      { patience, most },
    )
  ).map(toldOf);

const JOINABLE = `select o.carrier_id as told_id, j.carrier_id, j.ids, o.state, o.stat, o.err, o.failure, o.carrier from orphan_receipt o cross join lateral (
    select p.carrier_id, null as ids from text_part p where p.carrier_id = o.carrier_id
    union all
    select p.carrier_id, v.ids from jsonb_to_recordset(o.other_ids) as v (ids text, id text)
      join text_part p on p.carrier_id = v.id join message m on m.id = p.text_id and m.address = o.number where o.at < :patience
    limit 1) j
  order by o.carrier_id limit :most`;

/** The same, left where they are. */
export const joinableReceipts = async (crossing: Crossing, patience: Date, most: number): Promise<Joined[]> =>
  (await crossing.rows<OrphanRow>(JOINABLE, { patience, most })).map(toldOf);

/**
 * Receipts that came before the answer to their submit, which is known by now never to come: their text is found by the
 * number and the reference. They are taken out of where they are kept.
 */
export const takeUnanswered = async (crossing: Crossing, most: number): Promise<Joined[]> =>
  (
    await crossing.rows<UnansweredRow>(
      `with due as (${UNANSWERED_RECEIPTS} for update of r skip locked)
       delete from orphan_receipt o using due d where o.carrier_id = d.carrier_id returning d.*`,
      { most },
    )
  ).map(unansweredOf);

const UNANSWERED_RECEIPTS = `select r.* from orphan_receipt r where r.reference is not null and exists (${UNANSWERED}) order by r.carrier_id limit :most`;

/** The same, left where they are. */
export const unansweredReceipts = async (crossing: Crossing, most: number): Promise<Joined[]> =>
  (await crossing.rows<UnansweredRow>(UNANSWERED_RECEIPTS, { most })).map(unansweredOf);

/** Takes one of them out of where it is kept; false: somebody else did. */
export const takeReceipt = async (crossing: Crossing, toldId: string): Promise<boolean> =>
  (await crossing.run(`delete from orphan_receipt where carrier_id = :toldId`, { toldId })) > 0;

const toldOf = ({ carrier_id: carrierId, told_id: toldId, ids, carrier, ...row }: OrphanRow): Joined => ({
  ...{ carrierId, state: row.state, stat: row.stat, err: row.err, failure: row.failure, toldId, ids },
  // What finds a text without its carrier id is not needed any more.
  ...{ number: '', reference: null, carrier: carrier ?? HOUSE, otherIds: [] },
});

const unansweredOf = ({
  carrier_id: carrierId,
  carrier,
  other_ids: otherIds,
  ...row
}: UnansweredRow): Joined => ({
  ...{ carrierId, toldId: carrierId, state: row.state, stat: row.stat, err: row.err, failure: row.failure },
  ...{
    number: row.number,
    reference: row.reference,
    carrier: carrier ?? HOUSE,
    otherIds: otherIds ?? [],
    ids: null,
  },
});

/** Receipts of texts that were never ours do not gather for ever. */
export const forgetOldReceipts = (crossing: Crossing, before: Date): Promise<number> =>
  crossing.run(`delete from orphan_receipt where at < :before`, { before });

const SETTLED = `id, workspace_id, person_id, program_id, send_id, channel, address, state, failure`;

/** When people were last texted, by messages (`moved`) that were taken or may have been. Not as they leave: what is claimed is waited for. */
const lastOf = (which: string): string => `last as (
       insert into last_text (person_id, workspace_id, at)
       select person_id, workspace_id, max(submitted_at) from moved where ${which} and submitted_at is not null group by 1, 2 order by 1
       on conflict (person_id) do update set at = excluded.at where last_text.at < excluded.at)`;

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
       update message t set state = f.state, failure = case f.state when 'failed' then f.failure end, lost_at = null,
              settled_at = case when f.state <> 'submitted' then :at end
         from folded f
        where t.id = f.text_id and t.parts = f.parts
          and ((f.state = 'submitted' and ${finds('accept')}) or (f.state = 'delivered' and ${finds('deliver')})
            or (f.state = 'failed' and ${finds('fail')}))
       returning t.id, t.workspace_id, t.person_id, t.program_id, t.send_id, t.channel, t.address, t.state, t.failure, t.submitted_at),
     ${lastOf('true')},
     told as (
       insert into message_event (workspace_id, message_id, event, detail, at)
       select workspace_id, id, event, detail, :at from (
         select workspace_id, id, 'accept' as event, null as detail from moved where id = any(:accepted) or state = 'submitted'
         union all
         select workspace_id, id, case state when 'delivered' then 'deliver' else 'fail' end, failure from moved where state <> 'submitted') e),
     ${HAPPENED}
     select ${SETTLED} from moved where state <> 'submitted'`,
    { texts, accepted, at },
  );
}

/**
 * What happened to the people of messages that were settled: see `db/kit/happenings.ts`. That one arrived is told only
 * where somebody asked for it: measured, it costs a tenth of delivery.
 */
const HAPPENED = `tellable as (
       select * from moved m where m.state = 'failed' or (m.state = 'delivered' and exists (
         select 1 from happening_wanted w where w.workspace_id = m.workspace_id and 'message.delivered' = any(w.kinds)))),
     happened as (
       insert into happening (workspace_id, person_id, kind, subject, detail, at)
       select m.workspace_id, m.person_id, 'message.' || m.state, m.id, case when m.failure is not null then jsonb_build_object('failure', m.failure) end, :at
         from (select happening_begin() as may from (select 1 from tellable limit 1) any_at_all) b, tellable m where b.may)`;

export interface Outcome {
  id: string;
  event: 'refuse' | 'lose' | 'requeue';
  /** None for a requeue: it was never written, and that was no attempt. */
  failure: FailureReason | null;
  /** For a requeue: when to try again. */
  notBefore: Date | null;
}

/**
 * What became of submits that were not taken. What would go back into the queue waits while its send is paused, and is
 * called back when that is over. Gives the texts that failed for good.
 */
export const recordOutcomes = (
  crossing: Crossing,
  outcomes: readonly Outcome[],
  at: Date,
): Promise<Settled[]> =>
  crossing.rows<Settled>(
    `with told_of as (
       select u.id, u.failure, u.not_before, case when u.event <> 'requeue' then u.event else case ${ITS_SEND} when 'on' then 'requeue' when 'waits' then 'wait' else 'withdraw' end end as event
         from unnest(:ids::text[], :events::text[], :failures::text[], :notBefores::timestamptz[]) as u (id, event, failure, not_before)
         join message t on t.id = u.id),
     moved as (
       update message t
          set state = case u.event when 'refuse' then 'failed' when 'lose' then 'unconfirmed' when 'withdraw' then 'cancelled' else 'queued' end,
              failure = u.failure, not_before = case u.event when 'requeue' then u.not_before when 'wait' then ${WAITS} end, lost_at = case u.event when 'lose' then :at end,
              attempts = t.attempts - case when u.event in ('requeue', 'wait') and u.failure is null then 1 else 0 end, worker = null,
              settled_at = case when u.event in ('refuse', 'withdraw') then :at::timestamptz end
         from told_of u
        where t.id = u.id and ${finds('refuse')}
       returning t.id, t.workspace_id, t.person_id, t.program_id, t.send_id, t.channel, t.address, t.state, t.failure, t.submitted_at, u.event),
     ${lastOf(`event = 'lose'`)},
     told as (
       insert into message_event (workspace_id, message_id, event, detail, at) select workspace_id, id, case event when 'wait' then 'requeue' else event end, failure, :at from moved),
     ${HAPPENED}
     select ${SETTLED} from moved where state = 'failed'`,
    {
      ids: outcomes.map((o) => o.id),
      events: outcomes.map((o) => o.event),
      failures: outcomes.map((o) => o.failure),
      notBefores: outcomes.map((o) => o.notBefore),
      at,
    },
  );
