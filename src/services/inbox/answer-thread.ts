import { USUAL_LIMITS } from '@/core/chat/network';
import { clear, decidingReason } from '@/core/clearance/clear';
import { REASON_WORDS } from '@/core/clearance/reasons';
import { DAY, MINUTE, type Millis } from '@/core/shared/instant';
import { ok, refuse, type Result } from '@/core/shared/result';
import type { Channel } from '@/core/message/channel';
import { clean } from '@/core/people/values';
import { cutText } from '@/core/shared/clean-text';
import { Person } from '@/db/people/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Membership, Workspace } from '@/db/access/entities';
import { PreparedUse } from '@/db/inbox/entities';
import { answeredSince, putOffUntil } from '@/db/inbox/thread';
import { Template } from '@/db/templates/entities';
import { whoHas } from '@/db/people/addresses';
import { lockPerson } from '@/db/people/locks';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import {
  clearanceInput,
  loadPersonFacts,
  loadProgramFacts,
  copyWithFiles,
  purseOf,
  type Copy,
} from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { ANSWER_WAYS } from './answer-ways';
import { carryDecision } from './carry-decision';
import { decide, standingOf } from './standing';
import { lastInbound, settleThread, subjectProgram } from './thread';
import { mediaPlan, readMedia } from '@/services/media/files';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';

/** How an answer goes, and what is done with the thread. */
export interface Answering {
  /** Left out: the channel they last wrote on. */
  channel?: Channel | null;
  /** Left out: at once. */
  leavesAt?: Millis;
  /** Up to when whoever writes it had seen the thread: an answer by another since then stops theirs. Left out: it does not. */
  seenAt?: Millis | null;
  /** They are to be back here then if they have not written. */
  backAt?: Millis | null;
  /** The prepared answer it began from, by id. */
  preparedId?: string | null;
  /** Files that go along, by id. */
  media?: readonly string[];
  /** What can be pressed under a chat message; a press comes back as these words. */
  buttons?: readonly string[];
}

/** As far ahead as something can be put off or sent later. */
export const FARTHEST: Millis = 366 * DAY;

/**
 * Sends an answer by hand: by the channel they last wrote on, or another that is chosen, and from where they wrote to.
 * Refused when clearance blocks it, and when another has answered meanwhile.
 */
export async function answerThread(
  ctx: Context,
  scope: Scope,
  personId: string,
  body: string,
  accountId: string | null,
  answering: Answering = {},
): Promise<Result<{ messageId: string }, Refusal>> {
  const { channel: chosen = null, leavesAt = ctx.now(), seenAt = null, backAt = null } = answering;
  const text = body.trim();
  if (text === '') return invalid('body', 'body: write something first.');
  if (leavesAt > ctx.now() + FARTHEST) return invalid('at', 'at: must be within a year from now.');
  if (backAt !== null && (backAt <= leavesAt || backAt > ctx.now() + FARTHEST))
    return invalid('back', 'back: must be after the answer has gone, and within a year from now.');
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  const other =
    seenAt === null ? null : await answeredSince(scope, { personId, accountId, since: new Date(seenAt) });
  if (other !== null)
    return conflict(
      'body',
      `body: ${other} has answered them while you wrote. Read it first, then send yours if it is still needed.`,
    );
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
  const buttons = (answering.buttons ?? []).map(clean).filter((words) => words !== '');
  const unfit = channel === 'chat' ? unfitButtons(buttons) : null;
  if (unfit !== null) return invalid('buttons', unfit);
  const kept = await readMedia(scope, answering.media ?? []);
  if (!kept.ok) return kept;
  const cleared = await clearedCopy(ctx, scope, {
    ...{ channel, personId, programId, text, senderId, address, media: kept.value },
    accountId: inbound?.chat_account_id ?? null,
  });
  if (!cleared.ok) return invalid('body', `body: not sent: ${cleared.reason}`);
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const messageId = await way.queue(ctx, scope, {
    ...{ person, address, programId, inbound, workspace, createdBy: accountId },
    ...{ body: cleared.value.text, media: cleared.value.media },
    buttons: channel === 'chat' ? buttons : [],
    notBefore: Math.max(leavesAt, ctx.now()),
  });
  await settleThread(ctx, scope, personId, { how: 'answered', accountId, messageId });
  if (backAt !== null)
    await putOffUntil(scope, personId, {
      ...{ until: new Date(backAt), why: 'no-answer', at: new Date(ctx.now()) },
    });
  await keepUse(ctx, scope, { messageId, personId, said: last?.body ?? '' }, answering.preparedId ?? null);
  return ok({ messageId });
}

/** A prepared answer was sent: what it answered is kept, so that it is proposed for words like these. */
async function keepUse(
  ctx: Context,
  scope: Scope,
  use: { messageId: string; personId: string; said: string },
  templateId: string | null,
): Promise<void> {
  if (templateId === null || !(await scope.em.findOne(Template, { id: templateId }))) return;
  await scope.em.insert(PreparedUse, {
    ...use,
    ...{ workspaceId: scope.workspaceId, templateId, at: new Date(ctx.now()) },
  });
}

/** Why these cannot be quick replies of a chat network; null: they can. */
function unfitButtons(buttons: readonly string[]): string | null {
  const { quickReplies, button } = USUAL_LIMITS;
  if (buttons.length > quickReplies) return `buttons: at most ${quickReplies} can be pressed.`;
  const long = buttons.find((words) => words.length > button);
  if (long !== undefined)
    return `buttons: “${cutText(long, 40)}” is too long: at most ${button} characters each.`;
  return new Set(buttons).size < buttons.length ? 'buttons: two read the same.' : null;
}

/** What leaves, files and all; or why it may not. */
async function clearedCopy(
  ctx: Context,
  scope: Scope,
  wanted: {
    channel: Channel;
    personId: string;
    programId: string;
    text: string;
    senderId: string | null;
    accountId: string | null;
    address: string;
    media: readonly string[] | null;
  },
): Promise<Result<Copy, string>> {
  const at = ctx.now();
  const facts = (await loadProgramFacts(scope, wanted.programId, at, wanted.channel))!;
  const person = (await loadPersonFacts(scope, facts, [wanted.personId], [wanted.address])).get(
    wanted.personId,
  )!;
  const { text, senderId: from, accountId } = wanted;
  const files = await mediaPlan(scope, facts.workspace, wanted.media);
  const copy = copyWithFiles(facts, person, files, { text, from, accountId });
  const options = {
    kind: 'answer' as const,
    at,
    copy,
    past: [],
    purse: purseOf(facts),
    answerFrom: wanted.senderId,
  };
  const clearance = clear(clearanceInput(facts, person, options), facts.hours);
  if (clearance.verdict !== 'blocked') return ok(copy);
  const { short, remedy } = REASON_WORDS[decidingReason(clearance)!.code];
  return refuse(`${short}. ${remedy}`);
}

/** A human has read it: nothing more to do. */
export async function closeThread(
  ctx: Context,
  scope: Scope,
  personId: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  if (!(await scope.em.findOne(Person, { id: personId }))) return notFound('person');
  await settleThread(ctx, scope, personId, { how: 'closed', accountId: await accountOf(scope, actor) });
  await writeAudit(ctx, scope, actor, 'thread.closed', personId);
  return ok(null);
}

/** Whoever acts, where it is a teammate and no key or rule. */
const accountOf = async (scope: Scope, actor: string): Promise<string | null> =>
  (await scope.em.findOne(Membership, { accountId: actor }))?.accountId ?? null;

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
  const via = { channel: 'sms' as const, senderId: sender.id };
  const standing = await standingOf(scope, person, via, inbound.from_number);
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
    ...{ person, from: inbound.from_number, via, inboundId: inbound.id },
    ...{ interpretation, decision, standing, evidence, at },
    late: at - inbound.at.getTime() > PROMPT,
  });
  if (decision.consents.length > 0)
    await scope.em.nativeUpdate(Person, { id: personId }, { stoppedAt: null });
  await settleThread(ctx, scope, personId);
  await writeAudit(ctx, scope, actor, 'keyword.near-miss-accepted', personId, { keyword: keyword.word });
  return ok(null);
}
