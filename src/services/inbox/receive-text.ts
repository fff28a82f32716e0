import { createHash } from 'node:crypto';
import { decideReply, type ReplyDecision } from '@/core/reply/decide';
import { interpret, type Interpretation } from '@/core/reply/interpret';
import { NO_CONSENT, type Consent, type ConsentEvidence } from '@/core/consent/ledger';
import { placeColumns, placeOf } from '@/core/phone/place';
import { cleanText, cutText, type CleanText } from '@/core/shared/clean-text';
import { MINUTE, type Millis } from '@/core/shared/instant';
import { KeywordRow, Program } from '@/db/programs/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Workspace } from '@/db/access/entities';
import type { Person } from '@/db/people/entities';
import type { Channel } from '@/core/message/channel';
import { consentStates } from '@/db/consent/consent';
import { addressWorks } from '@/db/people/addresses';
import {
  assembleInbound,
  expireParts,
  forgetFingerprint,
  insertInbound,
  lastTextTo,
  lockPersonByNumber,
  maybeStored,
  numberProgram,
  recentConfirmation,
  wroteSince,
} from '@/db/inbox/inbound';
import { announce, cancelQueued } from '@/db/delivery/texts';
import { insertUnread, waitsUnread } from '@/db/inbox/unread';
import { acrossWorkspaces, type Crossing, type Scope } from '@/db/kit/scope';
import type { IncomingPart } from '@/gateways/carrier';
import { queueAnswers } from './queue-answer';
import type { Context } from '@/services/kit/context';
import { recordConsent } from '@/services/consent/record-consent';
import { unsuppress } from '@/services/people/suppression';

/** A whole text as it came, made well-formed. */
export interface ArrivedText {
  /** Null: the carrier gives texts no id. */
  carrierId: string | null;
  /** What it is told by where it has no id, until the carrier surely knows that we have it. */
  fingerprint: string | null;
  from: string;
  to: string;
  body: CleanText;
  /** When it came. */
  at: Millis;
  /**
   * Whether it may begin something (a consent). Read late, they may have changed their mind since; with a gap, nobody
   * knows what they agreed to. Ending something it always may.
   */
  begins: 'yes' | 'unless-they-wrote-since' | 'no';
}

/** What a text led to, for the log; null when it was a part of a longer one, a repetition, or could not be worked on. */
export type Received = { inboundId: string; personId: string; interpretation: Interpretation } | null;

/**
 * Takes a text from a person: stores it once, reads it, and commits what follows (consent, answers, called-back texts)
 * together with it. When what follows cannot be carried out, for whatever reason, the text is kept all the same and
 * holds everything automatic to them until it is tried again or a human settles it (`unread-texts.ts`). Throws only when
 * nothing could be stored: then the carrier must keep it.
 */
export async function receiveText(ctx: Context, part: IncomingPart): Promise<Received> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const at = ctx.now();
    const { from, to, concat } = part;
    if (!concat) {
      const fingerprint = part.carrierId === null ? fingerprintOf(part) : null;
      const whole = {
        carrierId: idOf(part),
        fingerprint,
        from,
        to,
        body: cleanText(part.body),
        at,
        begins: 'yes' as const,
      };
      return takeIn(ctx, crossing, whole);
    }
    // A part that is delivered again is known by its place and its words; the whole needs no id.
    const [last, ...over] = (await assembleInbound(crossing, { ...part, concat }, new Date(at))).reverse();
    const whole = { carrierId: null, fingerprint: null, from, to, at };
    for (const body of over.reverse())
      await takeIn(ctx, crossing, { ...whole, body: cleanText(body), begins: 'no' });
    return last === undefined
      ? null
      : takeIn(ctx, crossing, { ...whole, body: cleanText(last), begins: 'yes' });
  });
}

const idOf = ({ carrierId }: IncomingPart): string | null => carrierId && cleanText(carrierId);

const fingerprintOf = ({ from, to, body }: Pick<IncomingPart, 'from' | 'to' | 'body'>): string =>
  createHash('sha256')
    .update(`${from}|${to}|${cleanText(body)}`)
    .digest('base64url');

/** The carrier surely knows that we have this one: the same words again were written again. */
export async function settleArrival(ctx: Context, part: IncomingPart): Promise<void> {
  if (part.carrierId !== null || part.concat) return;
  await acrossWorkspaces(ctx.orm, (crossing) => forgetFingerprint(crossing, fingerprintOf(part)));
}

/** Reads texts of which a part never came, with the gap marked: somebody's STOP may be in them. */
export async function readExpiredParts(ctx: Context): Promise<number> {
  const at = ctx.now();
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const texts = await expireParts(crossing, new Date(at));
    for (const { from, to, body } of texts)
      await takeIn(ctx, crossing, {
        ...{ carrierId: null, fingerprint: null, from, to, body: cleanText(body), at, begins: 'no' },
      });
    return texts.length;
  });
}

async function takeIn(ctx: Context, crossing: Crossing, text: ArrivedText): Promise<Received> {
  const waiting = await waitsUnread(crossing, text);
  if (waiting === 'this') return null;
  const sender = await findSender(crossing, text.to);
  // They come in the order they were written; only leaving need not wait for what came before it.
  if (!sender || (waiting === 'earlier' && !mayLeave(text.body))) {
    await keep(ctx, crossing, text, sender?.workspaceId ?? null);
    return null;
  }
  const tried = await crossing.attempt(() =>
    carryOut(ctx, crossing.within(sender.workspaceId), sender, text),
  );
  if (tried.ok) return tried.value;
  console.error(
    'What follows from a text could not be carried out; it is kept and holds its person.',
    tried.error,
  );
  await keep(ctx, crossing, text, sender.workspaceId);
  return null;
}

const findSender = (crossing: Crossing, number: string): Promise<SenderNumberRow | null> =>
  crossing.em.findOne(SenderNumberRow, { number }, { filters: false });

function keep(
  ctx: Context,
  crossing: Crossing,
  text: ArrivedText,
  workspaceId: string | null,
): Promise<number> {
  const { carrierId, fingerprint, from, to, body, at } = text;
  // A text to a number that is none of ours holds nobody, unless it may be a STOP.
  const holds = workspaceId !== null || mayLeave(body);
  const row = { workspaceId, carrierId, fingerprint, from, to, body, holds, at: new Date(at) };
  return insertUnread(crossing, { id: ctx.id('unr'), ...row });
}

/** Whether it reads as leaving, or may. What cannot be read may. */
function mayLeave(body: CleanText): boolean {
  try {
    return ['opt-out', 'unclear'].includes(interpret(body).meaning);
  } catch {
    return true;
  }
}

/** Everything that follows from a text, in the transaction it is stored in. Null: it was stored before. */
export async function carryOut(
  ctx: Context,
  scope: Scope,
  sender: SenderNumberRow,
  text: ArrivedText,
): Promise<Received> {
  const { at } = text;
  const person = await lockPersonByNumber(scope, {
    id: ctx.id('per'),
    number: text.from,
    source: `text to ${sender.number}`,
    at: new Date(at),
    ...placeColumns(placeOf({ number: text.from })),
  });
  const standing = await standingOf(scope, person, sender, text.from);
  const interpretation = interpret(text.body, standing);
  const leaves = interpretation.meaning === 'opt-out' && person.stoppedAt === null;
  // It may be one we have: then only leaving is done again, which changes nothing for who left.
  if (!leaves && text.fingerprint && (await maybeStored(scope, text.fingerprint))) return null;
  const inboundId = ctx.id('inb');
  const stored = await insertInbound(scope, {
    id: inboundId,
    personId: person.id,
    ...{ channel: 'sms', subject: null },
    senderId: sender.id,
    from: text.from,
    carrierId: text.carrierId,
    fingerprint: text.fingerprint,
    body: text.body,
    interpretation,
    afterTextId: standing.after?.id ?? null,
    at: new Date(at),
  });
  if (!stored) return null;
  const decision = await decide(scope, { text, person, interpretation, standing });
  await follow(ctx, scope, { person, sender, text, inboundId, decision, interpretation, standing });
  return { inboundId, personId: person.id, interpretation };
}

/** What a reply is read and decided against. */
export interface Standing {
  programs: Program[];
  keywordRows: KeywordRow[];
  keywords: string[];
  consents: Map<string, Consent>;
  questionPending: boolean;
  /** The last text that left for them. */
  after: { id: string; program_id: string } | null;
  /** The program an answer belongs to; null: there is none at all. */
  subjectProgramId: string | null;
}

export async function standingOf(
  scope: Scope,
  person: Pick<Person, 'id'>,
  sender: Pick<SenderNumberRow, 'id'>,
  from: string,
): Promise<Standing> {
  const programs = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  const keywordRows = await scope.em.find(KeywordRow, {});
  const consents = await consentStates(scope, person.id, 'sms', from);
  const after = await lastTextTo(scope, person.id);
  const ofNumber = after ? null : await numberProgram(scope, sender.id);
  return {
    programs,
    keywordRows,
    keywords: keywordRows.map(({ word }) => word),
    consents,
    questionPending: [...consents.values()].some(({ state }) => state === 'asked'),
    after,
    subjectProgramId: after?.program_id ?? ofNumber ?? programs[0]?.id ?? null,
  };
}

interface Read {
  text: Pick<ArrivedText, 'at' | 'begins'>;
  person: Person;
  interpretation: Interpretation;
  standing: Standing;
}

export async function decide(
  scope: Scope,
  { text, person, interpretation, standing }: Read,
): Promise<ReplyDecision> {
  const { programs, keywordRows, consents } = standing;
  const keywordProgramId = keywordRows.find(({ word }) => word === interpretation.keyword)?.programId ?? null;
  const since = new Date(text.at - MINUTE);
  return decideReply({
    interpretation,
    programs: programs.map((program) => ({
      programId: program.id,
      doubleOptIn: program.doubleOptIn,
      archived: program.archivedAt !== null,
      consent: consents.get(program.id) ?? NO_CONSENT,
    })),
    keywordProgramId,
    subjectProgramId: standing.subjectProgramId,
    stopped: person.stoppedAt !== null,
    unclear: person.unclearSince !== null,
    answeredJustNow:
      keywordProgramId !== null && (await recentConfirmation(scope, person.id, keywordProgramId, since)),
    mayBegin: await begins(scope, person, text),
  });
}

const begins = async (scope: Scope, person: Person, { begins, at }: Read['text']): Promise<boolean> =>
  begins === 'yes' ||
  (begins === 'unless-they-wrote-since' && !(await wroteSince(scope, person.id, new Date(at))));

interface Decided extends Read {
  sender: Pick<SenderNumberRow, 'id' | 'number'>;
  inboundId: string;
  decision: ReplyDecision;
  text: ArrivedText;
}

async function follow(ctx: Context, scope: Scope, decided: Decided): Promise<void> {
  const { person, sender, text, inboundId, decision, interpretation, standing } = decided;
  const evidence: ConsentEvidence = {
    said: cutText(text.body, 500),
    rule: interpretation.rule,
    source: `text to ${sender.number}`,
    inboundTextId: inboundId,
    ...(standing.after ? { afterTextId: standing.after.id } : {}),
  };
  const method = interpretation.meaning === 'keyword' ? ('keyword' as const) : ('reply' as const);
  const by = { channel: 'sms' as const, address: text.from };
  await applyDecision(ctx, scope, { person, by, decision, method, evidence, at: text.at });
  // Erased once, and back by their own act.
  if (decision.consents.some(({ kind }) => kind === 'opted-in')) await unsuppress(scope, text.from);
  await addressWorks(scope, 'number', text.from);
  await savePerson(scope, person, decision, text.at);
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  await queueAnswers(ctx, scope, {
    answers: decision.answers,
    personId: person.id,
    // To the number they wrote from, which need not be the one they prefer.
    address: text.from,
    senderId: sender.id,
    inboundId,
    workspace,
    programs: standing.programs,
  });
  await announce(scope, decision.answers.length > 0);
}

interface Application {
  person: Pick<Person, 'id'>;
  /** Where they said it. */
  by: { channel: Channel; address: string };
  decision: Pick<ReplyDecision, 'consents' | 'cancelQueued'>;
  method: 'keyword' | 'reply' | 'by-hand';
  evidence: ConsentEvidence;
  at: Millis;
}

/** Records what a person decided, and calls back what waits for them where they leave. */
export async function applyDecision(
  ctx: Context,
  scope: Scope,
  { person, by, decision, method, evidence, at }: Application,
): Promise<void> {
  if (decision.cancelQueued) await cancelQueued(scope, person.id, new Date(at), { channel: by.channel });
  for (const { programId, kind } of decision.consents)
    await recordConsent(ctx, scope, { personId: person.id, ...by, programId, kind, method, evidence });
}

const savePerson = (scope: Scope, person: Person, decision: ReplyDecision, at: Millis): Promise<number> =>
  scope.run(
    `update person set last_wrote_at = greatest(last_wrote_at, :at::timestamptz),
            stopped_at = case when :stopped then coalesce(stopped_at, :at) end,
            unclear_since = case when :unclear then coalesce(unclear_since, :at) end,
            waiting_since = case when :waiting then coalesce(waiting_since, :at) when :stopped then null else waiting_since end
      where workspace_id = :workspace and id = :personId`,
    {
      at: new Date(at),
      personId: person.id,
      stopped: decision.stopped,
      unclear: decision.unclear,
      waiting: decision.waiting,
    },
  );
