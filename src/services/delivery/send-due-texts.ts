import { clear, type Clearance } from '@/core/clearance/clear';
import { toJson } from '@/db/kit/json';
import { VALIDITY } from '@/core/delivery/failure';
import { afterParts, roomNow } from '@/core/delivery/pacing';
import { MINUTE, SECOND, toIso, type Millis } from '@/core/shared/instant';
import { splitParts } from '@/core/text/measure';
import {
  assignSenders,
  dueTextIds,
  giveUpSends,
  holdTexts,
  lockDueSenders,
  lockDueText,
  lockDueTexts,
  markBlocked,
  markSubmitting,
  paceSender,
  postponeText,
  sendStates,
  spendCredits,
  type DueText,
} from '@/db/delivery/due-texts';
import { announceAll } from '@/db/delivery/texts';
import { acrossWorkspaces, byKey, type Crossing, type Scope } from '@/db/kit/scope';
import type { Carrier, SubmitOutcome } from '@/gateways/carrier';
import {
  clearanceInput,
  loadPast,
  loadPersonFacts,
  loadProgramFacts,
  type PersonFacts,
  type ProgramFacts,
} from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { noteTrouble } from '@/services/kit/trouble';

/** A text that is committed as `submitting` and must now be written to the link. */
export interface LeavingText {
  id: string;
  workspaceId: string;
  senderId: string;
  senderNumber: string;
  number: string;
  body: string;
  parts: number;
  reference: number;
  attempts: number;
  departure: number;
}

/** Where a hold has no end of its own, the text is looked at again after this time. */
const LOOK_AGAIN: Millis = 15 * MINUTE;

/**
 * Claims what is due, clears every text once more, and commits the verdicts: one transaction, so that a text
 * is either still queued or known to be leaving. At most `room` parts. The caller writes them to the link.
 */
export async function claimDueTexts(ctx: Context, worker: number, room: number): Promise<LeavingText[]> {
  if (room <= 0) return [];
  try {
    return await claim(ctx, worker, (crossing, at) => dueTexts(crossing, at, room));
  } catch (error) {
    console.error('Due texts could not be claimed together; each is tried by itself.', error);
    return claimOneByOne(ctx, worker, room);
  }
}

/** Texts tried by themselves in one go, so that what can leave is not kept waiting for long. */
const ONE_BY_ONE = 100;

/** One among them cannot be worked on: it waits for its next try or is set aside, and the others leave. */
async function claimOneByOne(ctx: Context, worker: number, room: number): Promise<LeavingText[]> {
  const due = await acrossWorkspaces(ctx.orm, (crossing) =>
    dueTextIds(crossing, new Date(ctx.now()), Math.min(room, ONE_BY_ONE)),
  );
  const leaving: LeavingText[] = [];
  for (const { id, workspace_id: workspaceId, parts } of due) {
    if (parts > room && leaving.length > 0) continue;
    try {
      leaving.push(...(await claim(ctx, worker, (crossing, at) => lockDueText(crossing, id, new Date(at)))));
      room -= parts;
    } catch (error) {
      const next = await noteTrouble(ctx, 'text', { id, workspaceId }, error);
      await acrossWorkspaces(ctx.orm, (crossing) => postponeText(crossing, id, next));
    }
  }
  return leaving;
}

async function claim(
  ctx: Context,
  worker: number,
  find: (crossing: Crossing, at: Millis) => Promise<DueText[]>,
): Promise<LeavingText[]> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const at = ctx.now();
    await byKey(crossing);
    const due = await find(crossing, at);
    if (due.length === 0) return [];
    const leaving: LeavingText[] = [];
    for (const texts of groupBy(due, (text) => `${text.workspace_id} ${text.program_id}`).values())
      leaving.push(...(await decide(ctx, crossing.within(texts[0]!.workspace_id), texts, worker, at)));
    await announceAll(
      crossing,
      due.map((text) => text.workspace_id),
    );
    return leaving;
  });
}

/**
 * Due texts of every sender number that has some. The room is shared: who has little to send, or sends slowly, takes it
 * first, and nobody takes more than an equal part of what is left, so that a short code with a hundred thousand texts
 * does not keep another workspace's confirmation waiting.
 */
async function dueTexts(crossing: Crossing, at: Millis, room: number): Promise<DueText[]> {
  const due: DueText[] = [];
  let left = room;
  const senders = (await lockDueSenders(crossing, new Date(at))).map((sender) => {
    const pace = { partsPerSecond: sender.parts_per_second, nextFreeAt: sender.next_free_at.getTime() };
    return { id: sender.id, pace, room: roomNow(pace, at) };
  });
  senders.sort((a, b) => a.room - b.room);
  for (const [i, { id, pace, room: paced }] of senders.entries()) {
    const most = Math.min(paced, Math.ceil(left / (senders.length - i)));
    if (most <= 0) continue;
    const texts = withinParts(await lockDueTexts(crossing, id, new Date(at), most), most);
    const parts = texts.reduce((sum, text) => sum + text.parts, 0);
    if (parts > 0) await paceSender(crossing, id, new Date(afterParts(pace, at, parts)));
    due.push(...texts);
    left -= parts;
  }
  // Texts that found no number when they were queued can wait until nothing else does.
  return due.length > 0 ? due : lockDueTexts(crossing, null, new Date(at), Math.min(room, 50));
}

/** As many as fit into `parts`; always one, so that a long text cannot wait for ever. */
function withinParts(texts: DueText[], parts: number): DueText[] {
  let sum = 0;
  return texts.filter((text, i) => (sum += text.parts) <= parts || i === 0);
}

interface Verdict {
  text: RunningText;
  person: PersonFacts;
  clearance: Clearance;
}

async function decide(
  ctx: Context,
  scope: Scope,
  texts: DueText[],
  worker: number,
  at: Millis,
): Promise<LeavingText[]> {
  const facts = await loadProgramFacts(scope, texts[0]!.program_id, at);
  if (!facts) throw new Error(`Program ${texts[0]!.program_id} of a queued text is missing`);
  const running = await ofRunningSends(scope, texts, at);
  if (running.length === 0) return [];
  const verdicts = await clearAll(scope, facts, running, at);
  const of = (verdict: Clearance['verdict']) =>
    verdicts.filter(({ clearance }) => clearance.verdict === verdict);
  const blocked = of('blocked');
  const held = of('held');
  const stored = (v: Verdict) => toJson({ at: toIso(at), ...v.clearance });
  if (blocked.length > 0)
    await markBlocked(
      scope,
      blocked.map((v) => ({ id: v.text.id, clearance: stored(v) })),
      new Date(at),
    );
  if (held.length > 0)
    await holdTexts(
      scope,
      held.map((v) => ({
        id: v.text.id,
        clearance: stored(v),
        notBefore: new Date(v.clearance.until ?? at + LOOK_AGAIN),
      })),
    );
  const leaving = of('cleared').map((v) => ({ ...leavingOf(v, facts, ctx), clearance: stored(v) }));
  if (leaving.length === 0) return [];
  const departure = await markSubmitting(scope, leaving, worker, new Date(at));
  const unassigned = of('cleared').filter((v) => !v.person.assignedSenderId);
  if (unassigned.length > 0)
    await assignSenders(
      scope,
      unassigned.map((v) => ({
        personId: v.person.id,
        programId: facts.program.id,
        senderId: v.clearance.senderId!,
      })),
    );
  const paid = of('cleared').filter(({ text }) => owed(text) > 0);
  const credits = paid.reduce((sum, { text }) => sum + owed(text), 0);
  await spendCredits(scope, credits, paid.length, new Date(at));
  return leaving.map((text) => ({ ...text, departure }));
}

/** A due text, and since when its send runs. */
interface RunningText extends DueText {
  began: Millis;
}

/** Pause and stop mean every text that has not left, however it came to be due. */
async function ofRunningSends(scope: Scope, texts: DueText[], at: Millis): Promise<RunningText[]> {
  const sends = [...new Set(texts.flatMap(({ send_id: id }) => (id === null ? [] : [id])))];
  const states = new Map(
    (sends.length > 0 ? await sendStates(scope, sends) : []).map((one) => [one.id, one]),
  );
  const goes = ({ send_id: id }: DueText) => (id === null ? 'on' : states.get(id)!.goes);
  const idsThat = (way: 'waits' | 'over') => texts.filter((text) => goes(text) === way).map(({ id }) => id);
  const [over, waiting] = [idsThat('over'), idsThat('waits')];
  if (over.length + waiting.length > 0) await giveUpSends(scope, over, waiting, new Date(at));
  return texts
    .filter((text) => goes(text) === 'on')
    .map((text) => ({
      ...text,
      began: (states.get(text.send_id ?? '')?.began ?? text.created_at).getTime(),
    }));
}

/** A text that is tried again was paid for. */
const owed = ({ submitted_at, credits }: DueText): number => (submitted_at ? 0 : credits);

async function clearAll(
  scope: Scope,
  facts: ProgramFacts,
  texts: RunningText[],
  at: Millis,
): Promise<Verdict[]> {
  const people = await loadPersonFacts(
    scope,
    facts,
    texts.map((text) => text.person_id),
    texts.map((text) => text.address),
  );
  const asked = texts.map((text) => ({ personId: text.person_id, bodyHash: text.body_hash }));
  const past = await loadPast(
    scope,
    asked,
    at,
    texts.map((text) => text.id),
  );
  let creditsLeft = facts.workspace.creditBalance;
  return texts.map((text) => {
    const person = people.get(text.person_id);
    if (!person) throw new Error(`The person of text ${text.id} is missing`);
    const copy = {
      text: text.body,
      bodyHash: text.body_hash,
      alphabet: text.alphabet,
      parts: text.parts,
      credits: owed(text),
      emptyFields: [],
    };
    const options = {
      kind: text.kind,
      at,
      copy,
      past: past.get(text.person_id) ?? [],
      creditsLeft,
      answerFrom: text.in_reply_to && text.sender_id,
      queued: { began: text.began, address: text.address },
    };
    const input = clearanceInput(
      facts,
      { ...person, assignedSenderId: text.sender_id ?? person.assignedSenderId },
      options,
    );
    const clearance = clear(input, facts.hours);
    if (clearance.verdict === 'cleared') creditsLeft -= owed(text);
    return { text, person, clearance };
  });
}

function leavingOf(
  { text, clearance }: Verdict,
  facts: ProgramFacts,
  ctx: Context,
): Omit<LeavingText, 'departure'> {
  const sender = facts.allSenders.find(({ id }) => id === clearance.senderId)!;
  return {
    id: text.id,
    workspaceId: text.workspace_id,
    senderId: sender.id,
    senderNumber: sender.number,
    number: text.address,
    body: text.body,
    parts: text.parts,
    // The low four bits are free for the part.
    reference: Math.floor(ctx.chance() * 4096) << 4,
    attempts: text.attempts + 1,
  };
}

export interface TextOutcome {
  text: LeavingText;
  parts: SubmitOutcome[];
}

/** The carrier asks for less. */
export const isThrottle = (part: SubmitOutcome): boolean =>
  part.kind === 'refused' && (part.reason === 'throttled' || part.reason === 'carrier-busy');

/** Writes a text's parts to the link, all at once and in order. Never throws. */
export async function submitText(carrier: Carrier, text: LeavingText): Promise<TextOutcome> {
  const { alphabet, parts } = splitParts(text.body);
  const outcomes = parts.map((body, i) =>
    carrier.submit({
      from: text.senderNumber,
      to: text.number,
      body,
      alphabet,
      concat:
        parts.length > 1
          ? { reference: (text.reference >> 4) & 0xff, total: parts.length, index: i + 1 }
          : null,
      userReference: text.reference | i,
      validitySeconds: VALIDITY / SECOND,
    }),
  );
  return { text, parts: await Promise.all(outcomes) };
}

function groupBy<T>(items: readonly T[], key: (item: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const group = groups.get(key(item));
    if (group) group.push(item);
    else groups.set(key(item), [item]);
  }
  return groups;
}
