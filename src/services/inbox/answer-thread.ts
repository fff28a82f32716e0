import { clear } from '@/core/clearance/clear';
import { REASON_WORDS } from '@/core/clearance/reasons';
import { ok, type Result } from '@/core/shared/result';
import { measure } from '@/core/text/measure';
import { cutText, type CleanText } from '@/core/shared/clean-text';
import { Person } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Workspace } from '@/db/access/entities';
import { whoHas } from '@/db/people/addresses';
import { lockPerson } from '@/db/people/locks';
import { numberProgram } from '@/db/inbox/inbound';
import { announce, insertTexts } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import {
  clearanceInput,
  hashBody,
  loadPersonFacts,
  loadProgramFacts,
} from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { newText, queueAnswers } from './queue-answer';
import { applyDecision, decide, standingOf } from './receive-text';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';

interface LastInbound {
  id: string;
  sender_id: string;
  from_number: string;
  body: CleanText;
  near_keyword: string | null;
}

const lastInbound = async (scope: Scope, personId: string): Promise<LastInbound | null> => {
  const [row] = await scope.rows<LastInbound>(
    `select id, sender_id, from_number, body, near_keyword from inbound_text where workspace_id = :workspace and person_id = :personId order by at desc, id desc limit 1`,
    { personId },
  );
  return row ?? null;
};

/** The number they last wrote from, while it is theirs; else the one they prefer. Null: they have none. */
async function numberToAnswer(
  scope: Scope,
  person: Person,
  inbound: LastInbound | null,
): Promise<string | null> {
  if (inbound && (await whoHas(scope, 'number', inbound.from_number)).includes(person.id))
    return inbound.from_number;
  return person.number;
}

/** Nothing waits for an answer any more. */
async function settleThread(ctx: Context, scope: Scope, personId: string): Promise<void> {
  await scope.run(
    `update person set waiting_since = null where workspace_id = :workspace and id = :personId`,
    { personId },
  );
  await scope.run(
    `update inbound_text set resolved_at = :at where workspace_id = :workspace and person_id = :personId and resolved_at is null`,
    { personId, at: new Date(ctx.now()) },
  );
  await announce(scope, false);
}

/** Sends an answer by hand from the number the person wrote to. Refused when clearance blocks it. */
export async function answerThread(
  ctx: Context,
  scope: Scope,
  personId: string,
  body: string,
  accountId: string,
): Promise<Result<null, Refusal>> {
  const text = body.trim();
  if (text === '') return invalid('body', 'body: write something first.');
  if (text.length > 1_600) return invalid('body', 'body: is too long: at most 1600 characters.');
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  const inbound = await lastInbound(scope, personId);
  const programId = await subjectProgram(scope, personId, inbound?.sender_id ?? null);
  if (!programId)
    return invalid('body', 'body: there is no program yet that this could belong to. Make one first.');
  const address = await numberToAnswer(scope, person, inbound);
  if (address === null)
    return invalid('body', 'body: not sent: no number of theirs is known. Add one on their page.');
  const blocked = await blockedBecause(ctx, scope, {
    personId,
    programId,
    text,
    senderId: inbound?.sender_id ?? null,
    address,
  });
  if (blocked) return invalid('body', `body: not sent: ${blocked}`);
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const single = {
    ...{ personId, address, programId },
    senderId: inbound?.sender_id ?? null,
    inboundId: inbound?.id ?? null,
    workspace,
  };
  await insertTexts(scope, [newText(ctx, { ...single, kind: 'answer', body: text, createdBy: accountId })]);
  await settleThread(ctx, scope, personId);
  return ok(null);
}

/** The program of the last text, else of the number written to, else the first one they belong to. */
async function subjectProgram(
  scope: Scope,
  personId: string,
  senderId: string | null,
): Promise<string | null> {
  const [row] = await scope.rows<{ program_id: string }>(
    `select program_id from message where workspace_id = :workspace and person_id = :personId order by created_at desc limit 1`,
    { personId },
  );
  if (row) return row.program_id;
  const [program] = await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' }, limit: 1 });
  return (senderId ? await numberProgram(scope, senderId) : null) ?? program?.id ?? null;
}

async function blockedBecause(
  ctx: Context,
  scope: Scope,
  wanted: { personId: string; programId: string; text: string; senderId: string | null; address: string },
): Promise<string | null> {
  const at = ctx.now();
  const facts = (await loadProgramFacts(scope, wanted.programId, at))!;
  const person = (await loadPersonFacts(scope, facts, [wanted.personId], [wanted.address])).get(
    wanted.personId,
  )!;
  const { alphabet, parts } = measure(wanted.text);
  const copy = {
    text: wanted.text,
    bodyHash: hashBody(wanted.text),
    alphabet,
    parts,
    credits: parts,
    emptyFields: [],
  };
  const options = {
    kind: 'answer' as const,
    at,
    copy,
    past: [],
    creditsLeft: facts.workspace.creditBalance,
    answerFrom: wanted.senderId,
  };
  const { verdict, reasons } = clear(clearanceInput(facts, person, options), facts.hours);
  if (verdict !== 'blocked') return null;
  const { short, remedy } = REASON_WORDS[reasons.find(({ effect }) => effect === 'block')!.code];
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
  await scope.run(
    `update person set unclear_since = null where workspace_id = :workspace and id = :personId`,
    { personId },
  );
  if (leaves && !person.stoppedAt) await optOutByHand(ctx, scope, person, actor);
  if (leaves)
    await scope.run(
      `update person set stopped_at = coalesce(stopped_at, :at) where workspace_id = :workspace and id = :personId`,
      { personId, at },
    );
  await settleThread(ctx, scope, personId);
  await writeAudit(ctx, scope, actor, leaves ? 'person.opted-out' : 'person.stays', personId);
  return ok(null);
}

async function optOutByHand(ctx: Context, scope: Scope, person: Person, actor: string): Promise<void> {
  const inbound = await lastInbound(scope, person.id);
  const programs = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  const evidence = {
    recordedBy: actor,
    ...(inbound ? { said: cutText(inbound.body, 500), inboundTextId: inbound.id } : {}),
  };
  const consents = programs.map(({ id }) => ({ programId: id, kind: 'opted-out' as const }));
  const decision = { consents, cancelQueued: true };
  const address = await numberToAnswer(scope, person, inbound);
  // Who has no number cannot be texted: there is nothing to leave.
  if (address === null) return;
  const by = { channel: 'sms' as const, address };
  await applyDecision(ctx, scope, { person, by, decision, method: 'by-hand', evidence, at: ctx.now() });
  const programId = await subjectProgram(scope, person.id, inbound?.sender_id ?? null);
  if (!inbound || !programId) return;
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
  const inbound = person && (await lastInbound(scope, personId));
  if (!person || !inbound?.near_keyword) return notFound('near miss');
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
  const by = { channel: 'sms' as const, address: inbound.from_number };
  await applyDecision(ctx, scope, { person, by, decision, method: 'keyword', evidence, at });
  await queueAnswers(ctx, scope, {
    answers: decision.answers,
    personId,
    address: inbound.from_number,
    senderId: inbound.sender_id,
    inboundId: inbound.id,
    workspace: await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }),
    programs: standing.programs,
  });
  if (decision.consents.length > 0)
    await scope.run(
      `update person set stopped_at = null where workspace_id = :workspace and id = :personId`,
      {
        personId,
      },
    );
  await settleThread(ctx, scope, personId);
  await writeAudit(ctx, scope, actor, 'keyword.near-miss-accepted', personId, { keyword: keyword.word });
  return ok(null);
}
