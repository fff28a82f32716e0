import { log } from '@/log/log';
import { group, rollups } from 'd3-array';
import { clear, type Clearance } from '@/core/clearance/clear';
import { KINDS } from '@/core/message/kinds';
import type { Timing } from '@/core/broadcast/timing';
import { toIso, type Millis, MINUTE, SECOND } from '@/core/shared/instant';
import type { Channel } from '@/core/message/channel';
import { displayNumber } from '@/core/phone/number';
import { otherNumberText } from '@/core/text/wording';
import { toJson } from '@/db/kit/json';
import {
  assignSenders,
  dueTextIds,
  giveNumbers,
  giveUpSends,
  holdTexts,
  lockDueText,
  markBlocked,
  markSubmitting,
  moveAssignments,
  postponeText,
  sendStates,
  type DueText,
  type Line,
} from '@/db/delivery/due-texts';
import { announceAll, insertTexts } from '@/db/delivery/texts';
import { lockCredits, spendOnMessages } from '@/db/credits/ledger';
import { acrossWorkspaces, byKeyInOrder, type Crossing, type Scope } from '@/db/kit/scope';
import type { SubmitOutcome } from '@/gateways/carrier';
import { chatsOf } from '@/db/chat/chats';
import {
  BeginCount,
  clearanceInput,
  forSend,
  loadPast,
  loadPersonFacts,
  loadProgramFacts,
  numberIsNew,
  priceOf,
  purseOf,
  type ChatCopy,
  type PersonFacts,
  type ProgramFacts,
} from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { noteTrouble } from '@/services/kit/trouble';
import { newText } from './new-text';

/** A message that is committed as `submitting` and must now be handed over. */
export interface Leaving {
  id: string;
  workspaceId: string;
  /** What it leaves from, where the channel has several to choose from. */
  senderId: string | null;
  reference: number | null;
  attempts: number;
  departure: number;
}

/** What was handed over, and what became of each part. */
export interface Handed<L extends Leaving = Leaving> {
  text: L;
  parts: SubmitOutcome[];
}

/** How the messages of a channel leave. What is the same for all (clearing, exactly once, credits) is here. */
export interface Way<L extends Leaving> extends Line {
  /** What is due and has room, locked. */
  due(crossing: Crossing, at: Millis, room: number): Promise<DueText[]>;
  leave(verdict: Verdict, facts: ProgramFacts, ctx: Context): Omit<L, 'departure'>;
  /** What is written down of those that leave, in the transaction that marks them. */
  note?(
    scope: Scope,
    cleared: readonly Verdict[],
    at: Millis,
    leaving: readonly Omit<L, 'departure'>[],
  ): Promise<unknown>;
}

/** Where a hold has no end of its own, the text is looked at again after this time. */
const LOOK_AGAIN: Millis = 15 * MINUTE;

/**
 * Claims what is due, clears every message once more, and commits the verdicts: one transaction, so that a message
 * is either still queued or known to be leaving. At most `room` parts. The caller hands them over.
 */
export async function claimDue<L extends Leaving>(
  ctx: Context,
  worker: number,
  room: number,
  way: Way<L>,
): Promise<L[]> {
  if (room <= 0) return [];
  try {
    return await claim(ctx, worker, way, (crossing, at, taken) => way.due(crossing, at, room - taken), 2);
  } catch (error) {
    log.error({ err: error }, 'Due messages could not be claimed together; each is tried by itself.');
    return claimOneByOne(ctx, worker, way, room);
  }
}

/** Texts tried by themselves in one go, so that what can leave is not kept waiting for long. */
const ONE_BY_ONE = 100;

/** One among them cannot be worked on: it waits for its next try or is set aside, and the others leave. */
async function claimOneByOne<L extends Leaving>(
  ctx: Context,
  worker: number,
  way: Way<L>,
  room: number,
): Promise<L[]> {
  const due = await acrossWorkspaces(ctx.orm, (crossing) =>
    dueTextIds(crossing, way, new Date(ctx.now()), Math.min(room, ONE_BY_ONE)),
  );
  const leaving: L[] = [];
  for (const { id, workspace_id: workspaceId, parts } of due) {
    if (parts > room && leaving.length > 0) continue;
    try {
      leaving.push(
        ...(await claim(ctx, worker, way, (crossing, at) => lockDueText(crossing, id, new Date(at)))),
      );
      room -= parts;
    } catch (error) {
      const next = await noteTrouble(ctx, 'text', { id, workspaceId }, error);
      await acrossWorkspaces(ctx.orm, (crossing) => postponeText(crossing, id, next));
    }
  }
  return leaving;
}

/**
 * `find`: what is due, beside the parts that were `taken` in this transaction. What was given another number is looked for
 * again, at most `rounds` times in all.
 */
async function claim<L extends Leaving>(
  ctx: Context,
  worker: number,
  way: Way<L>,
  find: (crossing: Crossing, at: Millis, taken: number) => Promise<DueText[]>,
  rounds = 1,
): Promise<L[]> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const at = ctx.now();
    await byKeyInOrder(crossing);
    const leaving: L[] = [];
    const changed = new Set<string>();
    let [taken, numbered] = [0, 1];
    for (let round = 0; round < rounds && numbered > 0; round++) {
      numbered = 0;
      const due = await find(crossing, at, taken);
      for (const texts of group(due, (text) => `${text.workspace_id} ${text.program_id}`).values()) {
        const decided = await decide(ctx, crossing.within(texts[0]!.workspace_id), way, texts, worker, at);
        leaving.push(...decided.leaving);
        numbered += decided.numbered;
      }
      taken += due.reduce((sum, text) => sum + (text.sender_id === null ? 0 : text.parts), 0);
      for (const text of due) changed.add(text.workspace_id);
    }
    if (changed.size > 0) await announceAll(crossing, [...changed]);
    return leaving;
  });
}

export interface Verdict {
  text: RunningText;
  person: PersonFacts;
  clearance: Clearance;
  /** What it costs as it leaves now; 0: it was paid. */
  cost: number;
}

/** With less than this left, or a limit of the day, workers ask for what is left one after the other. */
const PLENTY = 5_000;

async function factsOf(scope: Scope, programId: string, at: Millis, channel: Channel): Promise<ProgramFacts> {
  const read = async () => {
    const facts = await loadProgramFacts(scope, programId, at, channel);
    if (!facts) throw new Error(`Program ${programId} of a queued text is missing`);
    return facts;
  };
  const facts = await read();
  if (facts.days.length === 0 && facts.workspace.creditBalance >= PLENTY) return facts;
  // Two that both see the last credits would both spend them.
  await lockCredits(scope);
  await scope.em.refresh(facts.workspace);
  return read();
}

async function decide<L extends Leaving>(
  ctx: Context,
  scope: Scope,
  way: Way<L>,
  texts: DueText[],
  worker: number,
  at: Millis,
): Promise<{ leaving: L[]; numbered: number }> {
  const facts = await factsOf(scope, texts[0]!.program_id, at, way.channel);
  const running = await ofRunningSends(scope, texts, at);
  if (running.length === 0) return { leaving: [], numbered: 0 };
  const verdicts = await clearAll(scope, facts, running, at);
  const withVerdict = (verdict: Clearance['verdict']) =>
    verdicts.filter(({ clearance }) => clearance.verdict === verdict);
  const blocked = withVerdict('blocked');
  const held = withVerdict('held');
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
        inTurn: Boolean(v.text.timing?.pace),
      })),
    );
  // What leaves from another number than it was queued for, or from none yet, waits for that number's pace and link.
  const elsewhere = (v: Verdict) => v.clearance.senderId !== v.text.sender_id;
  const numbered = withVerdict('cleared').filter(elsewhere);
  if (numbered.length > 0)
    await giveNumbers(
      scope,
      numbered.map((v) => ({ id: v.text.id, senderId: v.clearance.senderId! })),
    );
  const ready = withVerdict('cleared').filter((v) => !elsewhere(v));
  const strangers = ready.filter(
    (v) => KINDS[v.text.kind].counts && numberIsNew(facts, v.person, v.clearance.senderId),
  );
  if (strangers.length > 0) await introduce(ctx, scope, facts, strangers, { at, stored });
  const cleared = ready.filter((v) => !strangers.includes(v));
  const leaving = cleared.map((v) => ({
    ...way.leave(v, facts, ctx),
    ...{ clearance: stored(v), credits: v.text.submitted_at ? null : v.cost },
  }));
  if (leaving.length === 0) return { leaving: [], numbered: numbered.length };
  const departure = await markSubmitting(scope, leaving, worker, new Date(at));
  await way.note?.(scope, cleared, at, leaving);
  const unassigned = cleared.filter((v) => v.clearance.senderId && !v.person.assignedSenderId);
  if (unassigned.length > 0)
    await assignSenders(
      scope,
      unassigned.map((v) => ({
        personId: v.person.id,
        programId: facts.program.id,
        senderId: v.clearance.senderId!,
      })),
    );
  const spent = rollups(
    cleared.filter(({ cost }) => cost > 0),
    (some) => ({ credits: some.reduce((sum, { cost }) => sum + cost, 0), texts: some.length }),
    ({ text }) => text.send_id,
  );
  await spendOnMessages(
    scope,
    { programId: facts.program.id, channel: way.channel, at: new Date(at) },
    spent.map(([sendId, sum]) => ({ sendId, ...sum })),
  );
  return {
    leaving: leaving.map((text) => ({ ...text, departure }) as unknown as L),
    numbered: numbered.length,
  };
}

/** A due text, since when its send runs, and how. */
export interface RunningText extends DueText {
  began: Millis;
  timing: Timing | null;
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
    .map((text) => {
      const { began = null, timing = null } = states.get(text.send_id ?? '') ?? {};
      return { ...text, timing, began: beganOf(text, began) };
    });
}

/**
 * Since when a message waits: a broadcast's all since it began or went on; what a sequence sends over months since it was
 * queued, or the sequence went on.
 */
const beganOf = ({ enrolment_id: enrolment, created_at: created }: DueText, began: Date | null): Millis =>
  enrolment === null ? (began ?? created).getTime() : Math.max(created.getTime(), began?.getTime() ?? 0);

/** How long what somebody is told first has before what it is told for. */
const AFTER_TOLD: Millis = 30 * SECOND;

/** They keep the number they are written to from now on, and are told so before anything else leaves from it. */
async function introduce(
  ctx: Context,
  scope: Scope,
  { program, workspace, allSenders }: ProgramFacts,
  strangers: readonly Verdict[],
  { at, stored }: { at: Millis; stored(verdict: Verdict): string },
): Promise<void> {
  const numberOf = (senderId: string) => allSenders.find(({ id }) => id === senderId)!.number;
  const each = [...group(strangers, ({ person }) => person.id).values()].map(([verdict]) => verdict!);
  const moved = await moveAssignments(
    scope,
    each.map(({ person, clearance }) => ({
      ...{ personId: person.id, programId: program.id, senderId: clearance.senderId! },
    })),
    new Date(at),
  );
  const told = new Set(moved.map((row) => row.person_id));
  const first = each.filter(({ person }) => told.has(person.id));
  await insertTexts(
    scope,
    first.map(({ person, text, clearance }) =>
      newText(ctx, {
        ...{ personId: person.id, address: text.address, programId: program.id, inboundId: null, workspace },
        ...{ senderId: clearance.senderId, kind: 'other-number', createdBy: null },
        body: otherNumberText(workspace.business, displayNumber(numberOf(person.assignedSenderId!))),
      }),
    ),
  );
  await holdTexts(
    scope,
    strangers.map((v) => ({
      ...{ id: v.text.id, clearance: stored(v), notBefore: new Date(at + AFTER_TOLD) },
      inTurn: false,
    })),
  );
}

/** A text that is tried again was paid for. Texts cost what they do when they leave, from the number they leave from. */
const costOf = (facts: ProgramFacts, text: DueText): number => {
  if (text.submitted_at) return 0;
  if (facts.channel !== 'sms') return text.credits;
  const { address, sender_id: senderId } = text;
  const price = priceOf(facts, { address, senderId, pictures: text.media !== null });
  return text.media ? price : price * text.parts;
};

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
  const purse = purseOf(facts);
  const begun = new BeginCount();
  const chats = await chatCopies(scope, facts, texts);
  const bySend = new Map<string | null, ProgramFacts>();
  const ownFacts = ({ send_id: id, timing }: RunningText) => {
    if (!bySend.has(id)) bySend.set(id, forSend(facts, timing));
    return bySend.get(id)!;
  };
  return texts.map((text) => {
    const person = people.get(text.person_id);
    if (!person) throw new Error(`The person of text ${text.id} is missing`);
    const cost = costOf(facts, text);
    const copy = {
      text: text.body,
      subject: null,
      bodyHash: text.body_hash,
      alphabet: text.alphabet,
      parts: text.parts,
      credits: cost,
      outside: [],
      emptyFields: [],
      blanks: 0,
      links: [],
      media: text.media,
      mediaLink: null,
      chat: chats.get(text.id) ?? null,
      recording: null,
    };
    const options = {
      kind: text.kind,
      at,
      copy,
      past: past.get(text.person_id) ?? [],
      purse,
      answerFrom: text.in_reply_to || KINDS[text.kind].keepsNumber ? text.sender_id : null,
      queued: { began: text.began, address: text.address },
      ahead: begun.ahead,
    };
    const input = clearanceInput(
      ownFacts(text),
      { ...person, assignedSenderId: text.sender_id ?? person.assignedSenderId },
      options,
    );
    const clearance = clear(input, facts.hours);
    begun.note(input, clearance);
    if (clearance.verdict === 'cleared') {
      purse.take(cost);
      // What leaves counts towards the number's day for those who come after it in the same go.
      const sender = facts.allSenders.find(({ id }) => id === clearance.senderId);
      if (sender) sender.sentToday += text.parts;
    }
    return { text, person, clearance, cost };
  });
}

/** How the chat messages among them stand: their account, and their template as it is now. */
async function chatCopies(
  scope: Scope,
  { channel }: ProgramFacts,
  texts: readonly RunningText[],
): Promise<Map<string, ChatCopy>> {
  if (channel !== 'chat') return new Map();
  const rows = await chatsOf(
    scope,
    texts.map(({ id }) => id),
  );
  return new Map(
    rows.map((row) => [
      row.message_id,
      {
        ...{ accountId: row.account_id, category: row.category },
        template:
          row.wording_id === null || row.state === null
            ? null
            : { wordingId: row.wording_id, state: row.state, filled: row.filled ?? {} },
      },
    ]),
  );
}
