import { decideReply, type ReplyDecision } from '@/core/reply/decide';
import { interpret, type Interpretation } from '@/core/reply/interpret';
import { NO_CONSENT, type ConsentEvidence } from '@/core/consent/ledger';
import { placeColumns, placeOf } from '@/core/phone/place';
import { MINUTE, type Millis } from '@/core/shared/instant';
import { KeywordRow, Program, SenderNumberRow, Workspace, type Person } from '@/db/entities';
import { consentStates } from '@/db/queries/consent';
import {
  assembleInbound,
  insertInbound,
  lastTextTo,
  lockPersonByNumber,
  numberProgram,
  recentConfirmation,
} from '@/db/queries/inbound';
import { announce, cancelQueued } from '@/db/queries/texts';
import { acrossWorkspaces, type Scope } from '@/db/scope';
import type { IncomingPart } from '@/gateways/carrier';
import { queueAnswers } from './queue-answer';
import type { Context } from './context';
import { recordConsent } from './record-consent';
import { unsuppress } from './suppression';

interface Inbound {
  carrierId: string;
  from: string;
  body: string;
  sender: SenderNumberRow;
}

/** What a text led to, for the log; null when it was a part of a longer one, a repetition, or to no number of ours. */
export type Received = { inboundId: string; personId: string; interpretation: Interpretation } | null;

/**
 * Takes a text from a person: stores it once by the carrier's id, reads it, and commits what follows (consent,
 * answers, called-back texts) together with it.
 */
export async function receiveText(ctx: Context, part: IncomingPart): Promise<Received> {
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const sender = await crossing.em.findOne(SenderNumberRow, { number: part.to }, { filters: false });
    if (!sender) return null;
    const body = part.concat ? await assembleInbound(crossing, part, new Date(ctx.now())) : part.body;
    if (body === null) return null;
    const inbound = {
      carrierId: part.carrierId,
      from: part.from,
      body: body.replaceAll('\u0000', ''),
      sender,
    };
    return take(ctx, crossing.within(sender.workspaceId), inbound);
  });
}

async function take(ctx: Context, scope: Scope, inbound: Inbound): Promise<Received> {
  const at = ctx.now();
  const person = await lockPersonByNumber(scope, {
    id: ctx.id('per'),
    number: inbound.from,
    source: `text to ${inbound.sender.number}`,
    at: new Date(at),
    ...placeColumns(placeOf({ number: inbound.from })),
  });
  const programs = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  const keywords = await scope.em.find(KeywordRow, {});
  const consents = await consentStates(scope, person.id);
  const questionPending = [...consents.values()].some(({ state }) => state === 'asked');
  const interpretation = interpret(inbound.body, {
    keywords: keywords.map(({ word }) => word),
    questionPending,
  });
  const after = await lastTextTo(scope, person.id);
  const inboundId = ctx.id('inb');
  const stored = await insertInbound(scope, {
    id: inboundId,
    personId: person.id,
    senderId: inbound.sender.id,
    carrierId: inbound.carrierId,
    body: inbound.body,
    interpretation,
    afterTextId: after?.id ?? null,
    at: new Date(at),
  });
  if (!stored) return null;
  const keywordProgramId = keywords.find(({ word }) => word === interpretation.keyword)?.programId ?? null;
  const decision = decideReply({
    interpretation,
    programs: programs.map((program) => ({
      programId: program.id,
      doubleOptIn: program.doubleOptIn,
      archived: program.archivedAt !== null,
      consent: consents.get(program.id) ?? NO_CONSENT,
    })),
    keywordProgramId,
    subjectProgramId:
      after?.program_id ?? (await numberProgram(scope, inbound.sender.id)) ?? programs[0]?.id ?? null,
    stopped: person.stoppedAt !== null,
    unclear: person.unclearSince !== null,
    answeredJustNow:
      keywordProgramId !== null &&
      (await recentConfirmation(scope, person.id, keywordProgramId, new Date(at - MINUTE))),
  });
  await carryOut(ctx, scope, {
    person,
    inbound,
    inboundId,
    decision,
    interpretation,
    afterTextId: after?.id,
    programs,
    at,
  });
  return { inboundId, personId: person.id, interpretation };
}

interface Decided {
  person: Person;
  inbound: Inbound;
  inboundId: string;
  decision: ReplyDecision;
  interpretation: Interpretation;
  afterTextId: string | undefined;
  programs: Program[];
  at: Millis;
}

async function carryOut(ctx: Context, scope: Scope, decided: Decided): Promise<void> {
  const { person, inbound, inboundId, decision, interpretation, afterTextId, programs, at } = decided;
  if (decision.cancelQueued) await cancelQueued(scope, person.id, new Date(at));
  const evidence: ConsentEvidence = {
    said: inbound.body.slice(0, 500),
    rule: interpretation.rule,
    source: `text to ${inbound.sender.number}`,
    inboundTextId: inboundId,
    ...(afterTextId ? { afterTextId } : {}),
  };
  const method = interpretation.meaning === 'keyword' ? ('keyword' as const) : ('reply' as const);
  for (const { programId, kind } of decision.consents)
    await recordConsent(ctx, scope, { personId: person.id, programId, kind, method, evidence });
  // Erased once, and back by their own act.
  if (decision.consents.some(({ kind }) => kind === 'opted-in')) await unsuppress(scope, inbound.from);
  await savePerson(scope, person, decision, at);
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  await queueAnswers(ctx, scope, {
    answers: decision.answers,
    person,
    senderId: inbound.sender.id,
    inboundId,
    workspace,
    programs,
  });
  await announce(scope, decision.answers.length > 0);
}

const savePerson = (scope: Scope, person: Person, decision: ReplyDecision, at: Millis): Promise<number> =>
  scope.run(
    `update person set last_wrote_at = :at, unreachable_count = 0, number_state = 'in-service',
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
