import { clear } from '@/core/clearance/clear';
import { REASON_WORDS } from '@/core/clearance/reasons';
import { ok, type Result } from '@/core/shared/result';
import { measure } from '@/core/text/measure';
import { KeywordRow, Person, Program, Workspace } from '@/db/entities';
import { numberProgram } from '@/db/queries/inbound';
import { announce, cancelQueued, insertTexts } from '@/db/queries/texts';
import type { Scope } from '@/db/scope';
import { writeAudit } from './audit';
import { clearanceInput, hashBody, loadPersonFacts, loadProgramFacts } from './clearance-facts';
import type { Context } from './context';
import { newText, queueAnswers } from './queue-answer';
import { recordConsent } from './record-consent';
import { invalid, notFound, type Refusal } from './validation';

interface LastInbound {
  id: string;
  sender_id: string;
  body: string;
  near_keyword: string | null;
}

const lastInbound = async (scope: Scope, personId: string): Promise<LastInbound | null> => {
  const [row] = await scope.rows<LastInbound>(
    `select id, sender_id, body, near_keyword from inbound_text where workspace_id = :workspace and person_id = :personId order by at desc, id desc limit 1`,
    { personId },
  );
  return row ?? null;
};

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
  const person = await scope.em.findOne(Person, { id: personId });
  if (!person) return notFound('person');
  const inbound = await lastInbound(scope, personId);
  const programId = await subjectProgram(scope, personId, inbound?.sender_id ?? null);
  if (!programId)
    return invalid('body', 'body: there is no program yet that this could belong to. Make one first.');
  const blocked = await blockedBecause(ctx, scope, {
    personId,
    programId,
    text,
    senderId: inbound?.sender_id ?? null,
  });
  if (blocked) return invalid('body', `body: not sent: ${blocked}`);
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const single = {
    person,
    programId,
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
    `select program_id from text where workspace_id = :workspace and person_id = :personId order by created_at desc limit 1`,
    { personId },
  );
  if (row) return row.program_id;
  const [program] = await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' }, limit: 1 });
  return (senderId ? await numberProgram(scope, senderId) : null) ?? program?.id ?? null;
}

async function blockedBecause(
  ctx: Context,
  scope: Scope,
  wanted: { personId: string; programId: string; text: string; senderId: string | null },
): Promise<string | null> {
  const at = ctx.now();
  const facts = (await loadProgramFacts(scope, wanted.programId, at))!;
  const person = (await loadPersonFacts(scope, wanted.programId, [wanted.personId])).get(wanted.personId)!;
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
    creditsLeft: Number(facts.workspace.creditBalance),
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
  const person = await scope.em.findOne(Person, { id: personId });
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
  await cancelQueued(scope, person.id, new Date(ctx.now()));
  const evidence = {
    recordedBy: actor,
    ...(inbound ? { said: inbound.body.slice(0, 500), inboundTextId: inbound.id } : {}),
  };
  for (const { id } of programs)
    await recordConsent(ctx, scope, {
      personId: person.id,
      programId: id,
      kind: 'opted-out',
      method: 'by-hand',
      evidence,
    });
  const programId = await subjectProgram(scope, person.id, inbound?.sender_id ?? null);
  if (!inbound || !programId) return;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const answers = [{ programId, kind: 'opt-out-confirmation' as const, resumed: false }];
  await queueAnswers(ctx, scope, {
    answers,
    person,
    senderId: inbound.sender_id,
    inboundId: inbound.id,
    workspace,
    programs,
  });
}

/** Takes a near miss as the keyword it was meant to be: the person's own words are the consent. */
export async function acceptNearMiss(
  ctx: Context,
  scope: Scope,
  personId: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const person = await scope.em.findOne(Person, { id: personId });
  const inbound = person && (await lastInbound(scope, personId));
  const keyword =
    inbound?.near_keyword && (await scope.em.findOne(KeywordRow, { word: inbound.near_keyword }));
  if (!person || !inbound || !keyword) return notFound('near miss');
  const evidence = {
    said: inbound.body.slice(0, 500),
    inboundTextId: inbound.id,
    recordedBy: actor,
    rule: 'near-miss',
    source: `text meant as ${keyword.word.toUpperCase()}`,
  };
  const recorded = await recordConsent(ctx, scope, {
    personId,
    programId: keyword.programId,
    kind: 'opted-in',
    method: 'keyword',
    evidence,
  });
  if (recorded.ok) {
    const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
    const programs = await scope.em.find(Program, { id: keyword.programId });
    const answers = [{ programId: keyword.programId, kind: 'confirmation' as const, resumed: false }];
    await queueAnswers(ctx, scope, {
      answers,
      person,
      senderId: inbound.sender_id,
      inboundId: inbound.id,
      workspace,
      programs,
    });
    await scope.run(
      `update person set stopped_at = null where workspace_id = :workspace and id = :personId`,
      { personId },
    );
  }
  await settleThread(ctx, scope, personId);
  await writeAudit(ctx, scope, actor, 'keyword.near-miss-accepted', personId, {
    keyword: keyword.word,
    said: inbound.body,
  });
  return ok(null);
}
