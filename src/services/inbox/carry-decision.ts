import type { Answer, ReplyDecision } from '@/core/reply/decide';
import type { Interpretation } from '@/core/reply/interpret';
import type { ConsentEvidence } from '@/core/consent/ledger';
import { endedWith, type Channel } from '@/core/message/channel';
import { type Millis } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import { consentsByAddress, keywordAskedBy } from '@/db/consent/consent';
import { cancelQueued } from '@/db/delivery/texts';
import { waitsForProof } from '@/db/forms/submissions';
import type { Scope } from '@/db/kit/scope';
import type { Person } from '@/db/people/entities';
import type { KeywordRow } from '@/db/programs/entities';
import { endOpenPause } from '@/services/consent/pause';
import { recordConsents } from '@/services/consent/record-consent';
import type { Context } from '@/services/kit/context';
import { beginAsking } from '@/services/questions/begin';
import { proveSubmissions } from '@/services/forms/prove';
import type { Given } from '@/services/offers/first-words';
import { giveOfKeyword } from './give-of-keyword';
import { queueAnswers } from './queue-answer';
import { senderIdOf, type Standing, type Via } from './standing';

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
  const { cancelQueued: back } = decision;
  const programId = typeof back === 'string' ? back : null;
  if (back)
    await cancelQueued(scope, person.id, new Date(at), { channels: endedWith(by.channel), programId });
  await recordConsents(
    ctx,
    scope,
    person.id,
    decision.consents.map((consent) => ({ ...by, ...consent, method, evidence })),
  );
  const left = decision.consents
    .filter(({ kind }) => kind === 'opted-out')
    .map((consent) => consent.programId);
  if (left.length > 0) await leaveAlongside(ctx, scope, { personId: person.id, by, left, method, evidence });
}

async function leaveAlongside(
  ctx: Context,
  scope: Scope,
  {
    personId,
    by,
    left,
    method,
    evidence,
  }: Pick<Application, 'by' | 'method' | 'evidence'> & { personId: string; left: readonly string[] },
): Promise<void> {
  const alongside = (await consentsByAddress(scope, personId)).filter(
    ({ programId, channel, state, current }) =>
      current &&
      (state === 'in' || state === 'asked') &&
      channel !== by.channel &&
      endedWith(by.channel).includes(channel) &&
      left.includes(programId),
  );
  await recordConsents(
    ctx,
    scope,
    personId,
    alongside.map(({ programId, channel, address }) => ({
      ...{ programId, channel, address, kind: 'opted-out' as const, method, evidence },
    })),
  );
}

interface Carrying {
  person: Pick<Person, 'id'>;
  /** The address they wrote from; answers go there. */
  from: string;
  /** What they wrote to; answers come from it. */
  via: Via;
  inboundId: string;
  interpretation: Interpretation;
  decision: ReplyDecision;
  standing: Standing;
  evidence: ConsentEvidence;
  at: Millis;
  /** A human decided it, later than they wrote: what is said now keeps the hours of the law. */
  late?: boolean;
}

/** What a text leads to: consents, what the keyword gives, and the answers. */
export async function carryDecision(ctx: Context, scope: Scope, carrying: Carrying): Promise<void> {
  const { person, from, decision, interpretation, standing, at } = carrying;
  const keyword = standing.keywordRows.find(({ word }) => word === interpretation.keyword) ?? null;
  const evidence = keyword ? { ...carrying.evidence, keyword: keyword.word } : carrying.evidence;
  const joining = await joiningBy(scope, carrying, keyword);
  await applyDecision(ctx, scope, {
    ...{ person, by: { channel: carrying.via.channel, address: from }, decision, evidence, at },
    method: keyword ? 'keyword' : 'reply',
  });
  if (asksForMore(carrying)) await endOpenPause(ctx, scope, person.id, 'their own act');
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const given: Given[] = [];
  for (const one of joining)
    given.push(
      await giveOfKeyword(ctx, scope, { person, keyword: one, program: programOf(standing, one), at }),
    );
  const programs = await provedBy(scope, carrying);
  if (programs.length > 0)
    given.push(...(await proveSubmissions(ctx, scope, { personId: person.id, programs, at })));
  const near = standing.keywordRows.find(({ word }) => word === interpretation.nearKeyword) ?? null;
  await queueAnswers(ctx, scope, {
    answers: decision.answers,
    personId: person.id,
    address: from,
    via: carrying.via,
    inboundId: carrying.inboundId,
    workspace,
    programs: standing.programs,
    keyword: keyword ?? near,
    given,
    late: carrying.late ?? false,
  });
  // What a keyword asks is asked by text.
  const { via } = carrying;
  for (const one of via.channel === 'sms' ? joining : [])
    await beginAsking(ctx, scope, {
      ...{ person, keyword: one, senderId: senderIdOf(via)!, address: from, late: carrying.late ?? false },
    });
}

/** Who types a keyword or START, where that is heard, wishes for quiet no more. */
const asksForMore = ({ interpretation: { meaning }, decision }: Carrying): boolean =>
  (meaning === 'keyword' || meaning === 'opt-in') && !decision.waiting && !decision.stopped;

const programOf = ({ programs }: Standing, { programId }: KeywordRow) =>
  programs.find(({ id }) => id === programId)!;

/** Programs they are in by an act of their own just now: what a form says of them is theirs. */
async function provedBy(
  scope: Scope,
  { person, decision, interpretation, standing }: Carrying,
): Promise<Standing['programs']> {
  const opted = decision.consents.filter(({ kind }) => kind === 'opted-in').map(({ programId }) => programId);
  const yes = interpretation.meaning === 'opt-in' && (await waitsForProof(scope, person.id));
  return standing.programs.filter(
    ({ id }) => opted.includes(id) || (yes && standing.consents.get(id)?.state === 'in'),
  );
}

/** The keywords by which they are in a program now: the one they typed, or those whose question they have just answered. */
async function joiningBy(
  scope: Scope,
  { person, decision, standing }: Carrying,
  keyword: KeywordRow | null,
): Promise<KeywordRow[]> {
  const opted = decision.consents.filter(({ kind }) => kind === 'opted-in').map(({ programId }) => programId);
  if (keyword) {
    const confirmed = decision.answers.some((answer) => isConfirmation(answer, keyword.programId));
    return confirmed || opted.includes(keyword.programId) ? [keyword] : [];
  }
  const asked = opted.filter((programId) => standing.consents.get(programId)?.state === 'asked');
  const found: KeywordRow[] = [];
  for (const programId of asked) {
    const word = await keywordAskedBy(scope, person.id, programId);
    const row = standing.keywordRows.find((one) => one.word === word && one.programId === programId);
    if (row) found.push(row);
  }
  return found;
}

const isConfirmation = ({ kind, programId }: Answer, of: string): boolean =>
  kind === 'confirmation' && programId === of;
