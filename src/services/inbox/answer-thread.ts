import { clear, decidingReason } from '@/core/clearance/clear';
import { REASON_WORDS } from '@/core/clearance/reasons';
import { MINUTE } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import type { Channel } from '@/core/message/channel';
import { cutText, type CleanText } from '@/core/shared/clean-text';
import { Person } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Workspace } from '@/db/access/entities';
import { whoHas } from '@/db/people/addresses';
import { lockPerson } from '@/db/people/locks';
import { numberProgram } from '@/db/inbox/inbound';
import { announce, cancelQueued } from '@/db/delivery/texts';
import { leaveByHand } from '@/services/consent/record-consent';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import {
  clearanceInput,
  loadPersonFacts,
  loadProgramFacts,
  sizedCopy,
} from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { ANSWER_WAYS, type LastInbound } from './answer-ways';
import { queueAnswers } from './queue-answer';
import { carryDecision } from './carry-decision';
import { decide, standingOf } from './standing';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { InboundText } from '@/db/inbox/entities';
import { Message } from '@/db/delivery/entities';

interface ReadInbound extends LastInbound {
  body: CleanText;
  near_keyword: string | null;
  at: Date;
}

/** What they last wrote, by any channel or by one. */
const lastInbound = async (
  scope: Scope,
  personId: string,
  channel: Channel | null = null,
): Promise<ReadInbound | null> => {
  const [row] = await scope.rows<ReadInbound>(
    `select id, channel, sender_id, from_number, carrier_id, subject, body, near_keyword, at from inbound_text
      where workspace_id = :workspace and person_id = :personId and meaning <> 'automatic' and (:channel::text is null or channel = :channel)
      order by at desc, id desc limit 1`,
    { personId, channel },
  );
  return row ?? null;
};

/** Nothing waits for an answer any more. */
async function settleThread(ctx: Context, scope: Scope, personId: string): Promise<void> {
  await scope.em.nativeUpdate(Person, { id: personId }, { waitingSince: null });
  await scope.em.nativeUpdate(
    InboundText,
    { personId, resolvedAt: null },
    { resolvedAt: new Date(ctx.now()) },
  );
  await announce(scope, false);
}

/**
 * Sends an answer by hand: by the channel they last wrote on, or another that is chosen, and from where they wrote to.
 * Refused when clearance blocks it.
 */
export async function answerThread(
  ctx: Context,
  scope: Scope,
  personId: string,
  body: string,
  accountId: string,
  chosen: Channel | null = null,
): Promise<Result<null, Refusal>> {
  const text = body.trim();
  if (text === '') return invalid('body', 'body: write something first.');
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  const last = await lastInbound(scope, personId);
  const channel = chosen ?? last?.channel ?? (person.number ? 'sms' : 'email');
  const way = ANSWER_WAYS[channel];
  if (text.length > way.longest)
    return invalid('body', `body: is too long: at most ${way.longest} characters.`);
  const inbound = last?.channel === channel ? last : await lastInbound(scope, personId, channel);
  const senderId = inbound?.sender_id ?? null;
  const programId = await subjectProgram(scope, personId, senderId);
  if (!programId)
    return invalid('body', 'body: there is no program yet that this could belong to. Make one first.');
  const address = await way.address(scope, person, inbound);
  if (address === null) return invalid('body', `body: not sent: ${way.missing}`);
  const blocked = await blockedBecause(ctx, scope, {
    ...{ channel, personId, programId, text, senderId, address },
  });
  if (blocked) return invalid('body', `body: not sent: ${blocked}`);
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  await way.queue(ctx, scope, {
    ...{ person, address, programId, inbound, workspace, body: text, createdBy: accountId },
  });
  await settleThread(ctx, scope, personId);
  return ok(null);
}

/** The program of the last text, else of the number written to, else the first one they belong to. */
export async function subjectProgram(
  scope: Scope,
  personId: string,
  senderId: string | null,
): Promise<string | null> {
  const [last] = await scope.em.find(Message, { personId }, { orderBy: { createdAt: 'desc' }, limit: 1 });
  if (last) return last.programId;
  const [program] = await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' }, limit: 1 });
  return (senderId ? await numberProgram(scope, senderId) : null) ?? program?.id ?? null;
}

async function blockedBecause(
  ctx: Context,
  scope: Scope,
  wanted: {
    channel: Channel;
    personId: string;
    programId: string;
    text: string;
    senderId: string | null;
    address: string;
  },
): Promise<string | null> {
  const at = ctx.now();
  const facts = (await loadProgramFacts(scope, wanted.programId, at, wanted.channel))!;
  const person = (await loadPersonFacts(scope, facts, [wanted.personId], [wanted.address])).get(
    wanted.personId,
  )!;
  const copy = sizedCopy(facts, wanted.text);
  const options = {
    kind: 'answer' as const,
    at,
    copy,
    past: [],
    creditsLeft: facts.workspace.creditBalance,
    answerFrom: wanted.senderId,
  };
  const clearance = clear(clearanceInput(facts, person, options), facts.hours);
  if (clearance.verdict !== 'blocked') return null;
  const { short, remedy } = REASON_WORDS[decidingReason(clearance)!.code];
  return `${short}. ${remedy}`;
}

/** A human has read it: nothing more to do. */
export async function closeThread(
  ctx: Context,
  scope: Scope,
  personId: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  if (!(await scope.em.findOne(Person, { id: personId }))) return notFound('person');
  await settleThread(ctx, scope, personId);
  await writeAudit(ctx, scope, actor, 'thread.closed', personId);
  return ok(null);
}

/**
 * The human's word on an unclear reply: they want to leave (then the final text goes), or they stay. Also used
 * to opt somebody out by hand.
 */
export async function decideUnclear(
  ctx: Context,
  scope: Scope,
  personId: string,
  leaves: boolean,
  actor: string,
): Promise<Result<null, Refusal>> {
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  const at = new Date(ctx.now());
  await scope.em.nativeUpdate(Person, { id: personId }, { unclearSince: null });
  if (leaves && !person.stoppedAt) await optOutByHand(ctx, scope, person, actor);
  if (leaves && person.number !== null)
    await scope.em.nativeUpdate(Person, { id: personId, stoppedAt: null }, { stoppedAt: at });
  await settleThread(ctx, scope, personId);
  await writeAudit(ctx, scope, actor, leaves ? 'person.opted-out' : 'person.stays', personId);
  return ok(null);
}

/** Out of every program on every channel: a human was told so. A text is confirmed, a letter is not. */
async function optOutByHand(ctx: Context, scope: Scope, person: Person, actor: string): Promise<void> {
  const inbound = await lastInbound(scope, person.id);
  const programs = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  const evidence = {
    recordedBy: actor,
    ...(inbound ? { said: cutText(inbound.body, 500), inboundTextId: inbound.id } : {}),
  };
  await cancelQueued(scope, person.id, new Date(ctx.now()));
  for (const { id: programId } of programs)
    await leaveByHand(ctx, scope, { personId: person.id, programId, evidence });
  const programId = await subjectProgram(scope, person.id, inbound?.sender_id ?? null);
  if (!inbound?.sender_id || !programId) return;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const answers = [{ programId, kind: 'opt-out-confirmation' as const, resumed: false }];
  await queueAnswers(ctx, scope, {
    answers,
    personId: person.id,
    address: inbound.from_number,
    senderId: inbound.sender_id,
    inboundId: inbound.id,
    workspace,
    programs,
  });
}

/** So soon an answer is one to what they have just written, at whatever hour. */
const PROMPT = 10 * MINUTE;

/**
 * Takes a near miss as the keyword it was meant to be: the person's own words are the consent. What follows is decided
 * as if they had typed it, a double opt-in included, with the person held: a STOP of the same moment comes before it
 * and ends it, or after it and counts.
 */
export async function acceptNearMiss(
  ctx: Context,
  scope: Scope,
  personId: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const person = await lockPerson(scope, personId);
  const inbound = person && (await lastInbound(scope, personId, 'sms'));
  if (!person || !inbound?.near_keyword || !inbound.sender_id) return notFound('near miss');
  const sender = await scope.em.findOneOrFail(SenderNumberRow, { id: inbound.sender_id });
  const standing = await standingOf(scope, person, sender, inbound.from_number);
  const keyword = standing.keywordRows.find(({ word }) => word === inbound.near_keyword);
  if (!keyword) return notFound('near miss');
  if (!(await whoHas(scope, 'number', inbound.from_number)).includes(person.id))
    return conflict(
      'number',
      'number: they wrote from a number that is not theirs any more. Ask them on the new one.',
    );
  const interpretation = {
    ...{ meaning: 'keyword' as const, rule: 'near-miss', evidence: inbound.body, nearKeyword: null },
    keyword: keyword.word,
  };
  const at = ctx.now();
  const text = { at, begins: 'yes' as const };
  const decision = await decide(scope, { text, person, interpretation, standing });
  const evidence = {
    said: cutText(inbound.body, 500),
    inboundTextId: inbound.id,
    recordedBy: actor,
    rule: 'near-miss',
    source: `text meant as ${keyword.word.toUpperCase()}`,
  };
  await carryDecision(ctx, scope, {
    ...{ person, from: inbound.from_number, senderId: inbound.sender_id, inboundId: inbound.id },
    ...{ interpretation, decision, standing, evidence, at },
    late: at - inbound.at.getTime() > PROMPT,
  });
  if (decision.consents.length > 0)
    await scope.em.nativeUpdate(Person, { id: personId }, { stoppedAt: null });
  await settleThread(ctx, scope, personId);
  await writeAudit(ctx, scope, actor, 'keyword.near-miss-accepted', personId, { keyword: keyword.word });
  return ok(null);
}
