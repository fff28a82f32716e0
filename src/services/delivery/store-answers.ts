import { log } from '@/log/log';
import { rollup } from 'd3-array';
import { HOUSE } from '@/core/delivery/carrier-profile';
import { retryAfter } from '@/core/delivery/failure';
import { afterThrottle, BURST } from '@/core/delivery/pacing';
import { failureOf, partAfter } from '@/core/delivery/receipt';
import { DAY, HOUR, SECOND, type Millis } from '@/core/shared/instant';
import {
  answerDepartures,
  forgetOldReceipts,
  fromWhereItWent,
  joinableReceipts,
  recordOutcomes,
  recordReceipts,
  recordTaken,
  settleTexts,
  takeJoinableReceipts,
  takeReceipt,
  takeUnanswered,
  unansweredReceipts,
  type Joined,
  type Outcome,
  type TakenPart,
  type ToldPart,
} from '@/db/delivery/answers';
import { learnReceiptIds } from '@/db/delivery/carriers';
import { countThrottle, forgetThrottles, paceSenders } from '@/db/delivery/due-texts';
import { announceAll } from '@/db/delivery/texts';
import { acrossWorkspaces, byKey, type Crossing } from '@/db/kit/scope';
import type { Receipt, SubmitOutcome } from '@/gateways/carrier';
import { applyConsequences } from './apply-consequences';
import type { Context } from '@/services/kit/context';
import type { Handed } from './claim-due';
import { isThrottle } from './send-due-texts';
import { noteTrouble } from '@/services/kit/trouble';

/**
 * Stores what the carrier answered, many at a time: what became of submits, and receipts. A text's state is the
 * fold of its parts, so one whose receipt came with the answer is written once. Late, doubled and unordered
 * receipts change nothing that is settled better.
 */
export async function storeAnswers(
  ctx: Context,
  outcomes: readonly Handed[],
  receipts: readonly Receipt[],
): Promise<void> {
  const at = ctx.now();
  const lastReceipts = lastOfEach(receipts.filter(({ byWords }) => !byWords).flatMap(toldPart));
  const byWords = [...lastOfEach(receipts.filter((receipt) => receipt.byWords).flatMap(toldPart)).values()];
  const taken = outcomes.flatMap((outcome) => takenParts(outcome, lastReceipts));
  const accepted = outcomes
    .filter(({ parts }) => parts.every(({ kind }) => kind === 'taken'))
    .map(({ text }) => text.id);
  const rest = outcomes.flatMap((outcome) => outcomeOf(ctx, outcome, at));
  if (outcomes.length + lastReceipts.size + byWords.length === 0) return;
  await acrossWorkspaces(ctx.orm, async (crossing) => {
    await byKey(crossing);
    const added = new Set(taken.length > 0 ? await recordTaken(crossing, taken, new Date(at)) : []);
    const late = [...lastReceipts.values()].filter(({ carrierId }) => !added.has(carrierId));
    if (byWords.length > 0) late.push(...(await fromWhereItWent(crossing, byWords)));
    const toldLate = late.length > 0 ? await recordReceipts(crossing, late, new Date(at)) : [];
    const toldAtOnce = taken.filter((part) => part.told).map(({ textId }) => textId);
    const touched = [...toldAtOnce, ...toldLate];
    const folded = await settleTexts(crossing, { accepted, touched, at: new Date(at) });
    const refused = rest.length > 0 ? await recordOutcomes(crossing, rest, new Date(at)) : [];
    if (outcomes.length > 0) {
      const answered = rollup(
        outcomes,
        (of) => of.length,
        ({ text }) => text.departure,
      );
      await answerDepartures(crossing, answered);
      await slowDown(crossing, outcomes, at);
    }
    const changed = [
      ...outcomes.map(({ text }) => text.workspaceId),
      ...folded.map((row) => row.workspace_id),
    ];
    await applyConsequences(ctx, crossing, [...folded, ...refused]);
    await announceAll(crossing, changed);
  });
}

/** Receipts joined in one go. */
const JOINED = 500;

/** How long a receipt without its text is kept: longer than any carrier tries. */
const KEPT: Millis = 7 * DAY;

/** How long the part of the very id of a receipt may take to come before another meaning of it counts. */
const PATIENCE: Millis = 5 * SECOND;

/** Receipts whose id was told in one way, before a carrier is known to tell all of them so. */
const ENOUGH = 3;

/**
 * Joins receipts and parts that missed each other between two workers, or whose carrier tells ids in a way of its own, with
 * all that follows (an opt-out at the carrier). One that cannot be joined is kept with its problem and tried again. Gives
 * how many.
 */
export async function joinReceipts(ctx: Context): Promise<number> {
  const patience = new Date(ctx.now() - PATIENCE);
  try {
    return await acrossWorkspaces(ctx.orm, async (crossing) => {
      await byKey(crossing);
      const joinable = await takeJoinableReceipts(crossing, patience, JOINED);
      const unanswered = await takeUnanswered(crossing, JOINED);
      await applyReceipts(ctx, crossing, [...joinable, ...unanswered]);
      await learnWays(crossing, joinable);
      return joinable.length + unanswered.length;
    });
  } catch (error) {
    log.error({ err: error }, 'Receipts could not be joined together; each is tried by itself.');
    return joinEach(ctx, patience);
  }
}

/** A carrier that told several ids in one way is asked no more: its links translate them from now on. */
async function learnWays(crossing: Crossing, joined: readonly Joined[]): Promise<void> {
  const ways = rollup(
    joined.filter(({ ids }) => ids !== null),
    (of) => of.length,
    ({ carrier }) => carrier,
    ({ ids }) => ids!,
  );
  for (const [carrier, counts] of ways)
    for (const [ids, count] of counts) if (count >= ENOUGH) await learnReceiptIds(crossing, carrier, ids);
}

async function joinEach(ctx: Context, patience: Date): Promise<number> {
  const found = await acrossWorkspaces(ctx.orm, async (crossing) => [
    ...(await joinableReceipts(crossing, patience, JOINED)),
    ...(await unansweredReceipts(crossing, JOINED)),
  ]);
  for (const part of found)
    try {
      await acrossWorkspaces(ctx.orm, async (crossing) => {
        await byKey(crossing);
        if (await takeReceipt(crossing, part.toldId)) await applyReceipts(ctx, crossing, [part]);
      });
    } catch (error) {
      const workspaceId = await workspaceOfPart(ctx, part.carrierId);
      const { carrierId, stat, err, number, reference, failure } = part;
      const detail: Receipt = {
        ...{ carrierId, stat: stat as Receipt['stat'], err, number, userReference: reference },
        ...(failure ? { failure } : {}),
      };
      await noteTrouble(ctx, 'receipt', { id: carrierId, workspaceId }, error, detail);
      await acrossWorkspaces(ctx.orm, (crossing) => takeReceipt(crossing, part.toldId));
    }
  return found.length;
}

async function applyReceipts(ctx: Context, crossing: Crossing, told: readonly ToldPart[]): Promise<void> {
  if (told.length === 0) return;
  const at = new Date(ctx.now());
  const touched = await recordReceipts(crossing, told, at);
  const folded = await settleTexts(crossing, { accepted: [], touched, at });
  await applyConsequences(ctx, crossing, folded);
  await announceAll(
    crossing,
    folded.map((row) => row.workspace_id),
  );
}

export const dropOldReceipts = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) => forgetOldReceipts(crossing, new Date(ctx.now() - KEPT)));

/** Runs work again until the database can be reached; without one it is run once. */
export type Patiently = <T>(work: () => Promise<T>) => Promise<T>;

/**
 * Stores receipts and outcomes each by itself, after they could not be stored together. One that cannot be is noted: a
 * receipt is kept with its problem once the carrier brought it often enough, a text of which the outcome cannot be
 * stored is unconfirmed. Gives the receipts the carrier is to bring again.
 */
export async function storeEach(
  ctx: Context,
  outcomes: readonly Handed[],
  receipts: readonly Receipt[],
  patiently: Patiently = (work) => work(),
): Promise<Set<Receipt>> {
  const again = new Set<Receipt>();
  for (const outcome of outcomes) await patiently(() => storeOutcome(ctx, outcome));
  for (const receipt of receipts)
    if (!(await patiently(() => storeReceipt(ctx, receipt)))) again.add(receipt);
  return again;
}

async function storeOutcome(ctx: Context, outcome: Handed): Promise<void> {
  try {
    await storeAnswers(ctx, [outcome], []);
  } catch (error) {
    const { id, workspaceId, departure } = outcome.text;
    await noteTrouble(ctx, 'text', { id, workspaceId }, error);
    await acrossWorkspaces(ctx.orm, async (crossing) => {
      await answerDepartures(crossing, new Map([[departure, 1]]));
      const lost: Outcome = { id, event: 'lose', failure: null, notBefore: null };
      await recordOutcomes(crossing, [lost], new Date(ctx.now()));
    });
  }
}

/** False: the carrier is to bring it again. */
async function storeReceipt(ctx: Context, receipt: Receipt): Promise<boolean> {
  try {
    await storeAnswers(ctx, [], [receipt]);
    return true;
  } catch (error) {
    const workspaceId = await workspaceOfPart(ctx, receipt.carrierId);
    return (
      (await noteTrouble(ctx, 'receipt', { id: receipt.carrierId, workspaceId }, error, receipt)) === null
    );
  }
}

const workspaceOfPart = (ctx: Context, carrierId: string): Promise<string | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const [row] = await crossing.rows<{ workspace_id: string }>(
      `select workspace_id from text_part where carrier_id = :carrierId`,
      { carrierId },
    );
    return row?.workspace_id ?? null;
  });

const takenParts = ({ text, parts }: Handed, told: ReadonlyMap<string, ToldPart>): TakenPart[] =>
  parts.flatMap((part, i) => {
    if (part.kind !== 'taken') return [];
    const { carrierId } = part;
    return [
      {
        textId: text.id,
        workspaceId: text.workspaceId,
        index: i + 1,
        carrierId,
        told: told.get(carrierId) ?? null,
      },
    ];
  });

/** A number that was asked to slow down pauses, longer each time in a row; one whose texts are taken starts afresh. */
async function slowDown(crossing: Crossing, outcomes: readonly Handed[], at: Millis): Promise<void> {
  // Pacing alone never promises further ahead than one burst: what lies beyond is a pause.
  const pausedFrom = new Date(at + BURST);
  const slow = sendersOf(outcomes, isThrottle);
  for (const senderId of slow) {
    const inARow = await countThrottle(crossing, senderId, pausedFrom);
    if (inARow !== null)
      await paceSenders(crossing, new Map([[senderId, new Date(afterThrottle(at, inARow))]]));
  }
  const taken = sendersOf(outcomes, (part) => part.kind === 'taken').filter((id) => !slow.includes(id));
  if (taken.length > 0) await forgetThrottles(crossing, taken, pausedFrom);
}

const sendersOf = (outcomes: readonly Handed[], of: (part: SubmitOutcome) => boolean): string[] => [
  ...new Set(
    outcomes.flatMap(({ text: { senderId }, parts }) => (senderId && parts.some(of) ? [senderId] : [])),
  ),
];

/**
 * What follows for a text that was not taken whole; none when it was. Once one part may have left, nothing is
 * sent again: half a text twice is worse than half a text.
 */
function outcomeOf(ctx: Context, { text, parts }: Handed, at: Millis): Outcome[] {
  if (parts.every((part) => part.kind === 'taken')) return [];
  const id = text.id;
  const mayHaveLeft = parts.some((part) => part.kind === 'taken' || part.kind === 'unknown');
  if (parts.every((part) => part.kind === 'not-written'))
    return [{ id, event: 'requeue', failure: null, notBefore: new Date(at) }];
  const refused = parts.find((part) => part.kind === 'refused');
  if (!refused) return [{ id, event: 'lose', failure: null, notBefore: null }];
  const wait = mayHaveLeft ? null : retryAfter(refused.reason, text.attempts, ctx.chance());
  if (wait === null) return [{ id, event: 'refuse', failure: refused.reason, notBefore: null }];
  return [{ id, event: 'requeue', failure: refused.reason, notBefore: new Date(at + Math.min(wait, HOUR)) }];
}

function toldPart(receipt: Receipt): ToldPart[] {
  const { carrierId, stat, err, number, userReference, failure: told, carrier = HOUSE } = receipt;
  const { otherIds = [] } = receipt;
  const state = partAfter(stat);
  if (state !== 'delivered' && state !== 'failed') return [];
  const failure = state === 'failed' ? (told ?? failureOf(stat, err)) : null;
  return [{ carrierId, state, stat, err, failure, number, reference: userReference, carrier, otherIds }];
}

/** One row per part, as SQL wants it; delivered beats failed. */
function lastOfEach(parts: readonly ToldPart[]): Map<string, ToldPart> {
  const byId = new Map<string, ToldPart>();
  for (const part of parts)
    if (byId.get(part.carrierId)?.state !== 'delivered') byId.set(part.carrierId, part);
  return byId;
}
