import { log } from '@/log/log';
import { lockPersonByNumber } from '@/db/people/by-number';
import { createHash } from 'node:crypto';
import type { ReplyDecision } from '@/core/reply/decide';
import { interpret, REACTION, type Interpretation } from '@/core/reply/interpret';
import type { ConsentEvidence } from '@/core/consent/ledger';
import { placeColumns, placeOf } from '@/core/phone/place';
import { cleanText, cutText, type CleanText } from '@/core/shared/clean-text';
import type { Millis } from '@/core/shared/instant';
import { SenderNumberRow } from '@/db/numbers/entities';
import type { Person } from '@/db/people/entities';
import { addressWorks } from '@/db/people/addresses';
import {
  assembleInbound,
  expireParts,
  forgetFingerprint,
  insertInbound,
  maybeStored,
} from '@/db/inbox/inbound';
import { announce } from '@/db/delivery/texts';
import { insertUnread, waitsUnread } from '@/db/inbox/unread';
import { acrossWorkspaces, type Crossing, type Scope } from '@/db/kit/scope';
import type { IncomingPart } from '@/gateways/carrier';
import { carryDecision } from './carry-decision';
import { decide, standingOf, type Begins, type Read, type Via } from './standing';
import type { Context } from '@/services/kit/context';
import { answerMeaning, readReply, takeAnswer } from '@/services/questions/take-answer';
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
  begins: Begins;
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
  log.error(
    { err: tried.error },
    'What follows from a text could not be carried out; it is kept and holds its person.',
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
  const via: Via = { channel: 'sms', senderId: sender.id };
  const standing = await standingOf(scope, person, via, text.from);
  const read = interpret(text.body, standing);
  const mayAnswer = read.meaning === 'reply' && read.rule !== REACTION && text.begins === 'yes';
  const answering = mayAnswer ? await readReply(scope, person.id, text) : null;
  const interpretation = answering ? answerMeaning(read, answering) : read;
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
  if (answering) await takeAnswer(ctx, scope, answering);
  return { inboundId, personId: person.id, interpretation };
}

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
  await carryDecision(ctx, scope, {
    ...{
      person,
      from: text.from,
      via: { channel: 'sms', senderId: sender.id },
      inboundId,
      interpretation,
      decision,
      standing,
      evidence,
    },
    at: text.at,
  });
  // Erased once, and back by their own act.
  if (decision.consents.some(({ kind }) => kind === 'opted-in')) await unsuppress(scope, text.from);
  await addressWorks(scope, 'number', text.from);
  await savePerson(scope, person, decision, text.at);
  await announce(scope, decision.answers.length > 0);
}

export const savePerson = (
  scope: Scope,
  person: Person,
  decision: ReplyDecision,
  at: Millis,
): Promise<number> =>
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
