import { cleanText, cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import { Leaving } from '@/db/inbox/entities';
import { Person } from '@/db/people/entities';
import { GuestAnswer, Stack } from '@/db/stacks/entities';
import { passOn, talkOf } from '@/db/stacks/stacks';
import { ownsPeople } from '@/services/access/teammates';
import { answerThread } from '@/services/inbox/answer-thread';
import { beginLeaving, undoLeaving } from '@/services/inbox/leave-by-hand';
import { factsOf } from '@/services/inbox/screen';
import { giveThread, noteOnThread } from '@/services/inbox/whose';
import { answerValues, wordWith } from '@/services/inbox/word-answer';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { notFound, type Refusal } from '@/services/kit/validation';
import { listTemplates } from '@/services/templates/templates';
import { noteFact } from './facts';

/*
 * What somebody who was invited to press does with those who answer: all of it concerns people of their own stack to whom
 * they pressed, and is written down under the name they were invited by.
 */

/** Somebody of a stack. */
export interface OfStack {
  stackId: string;
  personId: string;
}

const MOST_PREPARED = 12;
const LONGEST_WHY = 200;

/** The stack, if it is open and they are one of its people to whom it was pressed. */
async function theirStack(scope: Scope, of: OfStack): Promise<Result<Stack, Refusal>> {
  const stack = await scope.em.findOne(Stack, { id: of.stackId, endedAt: null });
  return stack && (await talkOf(scope, of)).length > 0 ? ok(stack) : notFound('person');
}

/** What went to and fro with them since it was pressed, and what can be done. Null: not one of theirs. */
export async function readTalk(ctx: Context, scope: Scope, of: OfStack) {
  const talk = await talkOf(scope, of);
  if (talk.length === 0) return null;
  const person = await scope.em.findOneOrFail(Person, { id: of.personId });
  const leaving = await scope.em.findOne(Leaving, { personId: of.personId });
  return {
    ...{ name: person.firstName ?? '', waits: person.waitingSince !== null, talk },
    ...{ stopped: person.stoppedAt !== null, leaving: leaving !== null },
    facts: await factsOf(scope, of.personId),
    prepared: await preparedFor(ctx, scope, of),
  };
}

/** Prepared answers of the house in the words this person gets; one that leaves a gap is not offered. */
async function preparedFor(ctx: Context, scope: Scope, { stackId, personId }: OfStack) {
  const { name } = await scope.em.findOneOrFail(Stack, { id: stackId });
  const shared = (await listTemplates(scope, null)).filter(({ question }) => question !== null);
  if (shared.length === 0) return [];
  const values = await answerValues(ctx, scope, personId, name);
  const offered: { id: string; question: string; body: string }[] = [];
  for (const { id, question, body } of shared.slice(0, MOST_PREPARED)) {
    const worded = await wordWith(scope, body, () => Promise.resolve(values));
    if (worded.ok) offered.push({ id, question: question!, body: worded.value });
  }
  return offered;
}

/** Answers them; in the thread it stands under the name of who was invited. */
export async function answerFromStack(
  ctx: Context,
  scope: Scope,
  of: OfStack,
  { body, prepared = null }: { body: string; prepared?: string | null },
): Promise<Result<null, Refusal>> {
  const stack = await theirStack(scope, of);
  if (!stack.ok) return stack;
  const { accountId, name, id: stackId } = stack.value;
  const sent = await answerThread(ctx, scope, of.personId, body, accountId, { preparedId: prepared });
  if (!sent.ok) return sent;
  const { messageId } = sent.value;
  if (accountId === null)
    await scope.em.insert(GuestAnswer, { messageId, workspaceId: scope.workspaceId, stackId });
  await writeAudit(ctx, scope, name, 'answer.from-stack', of.personId, {
    stack: stackId,
    message: messageId,
  });
  return ok(null);
}

export async function noteFromStack(
  ctx: Context,
  scope: Scope,
  of: OfStack,
  fact: { key: string; value: string },
): Promise<Result<null, Refusal>> {
  const stack = await theirStack(scope, of);
  if (!stack.ok) return stack;
  // Other fields of the person are none of a guest's business.
  if (!(await factsOf(scope, of.personId)).some(({ key }) => key === fact.key)) return notFound('question');
  const { accountId, name } = stack.value;
  return noteFact(ctx, scope, of.personId, fact, { accountId, name, stackId: of.stackId });
}

/** Somebody else, please: they are given to whoever invited, with why, and are this stack's no more. */
export async function askForAnother(
  ctx: Context,
  scope: Scope,
  of: OfStack,
  why: string,
): Promise<Result<null, Refusal>> {
  const stack = await theirStack(scope, of);
  if (!stack.ok) return stack;
  const { name, createdBy } = stack.value;
  const guest = { name, accountId: null };
  const to = createdBy !== null && (await ownsPeople(scope, createdBy)) ? createdBy : null;
  const given = await giveThread(ctx, scope, of.personId, to, guest);
  if (!given.ok) return given;
  const said = cutText(cleanText(why).trim(), LONGEST_WHY);
  const noted = await noteOnThread(
    ...([ctx, scope, of.personId] as const),
    `${name} asks for somebody else to answer${said === '' ? '.' : `: ${said}`}`,
    guest,
  );
  if (!noted.ok) return noted;
  await passOn(scope, { ...of, at: new Date(ctx.now()) });
  return ok(null);
}

/** They want no more texts: out of everything, with the final text, unless it is taken back within some seconds. */
export async function letLeave(ctx: Context, scope: Scope, of: OfStack): Promise<Result<null, Refusal>> {
  const stack = await theirStack(scope, of);
  if (!stack.ok) return stack;
  const { name } = stack.value;
  const wanted = { program: null, confirms: true, why: `said so to ${name}` };
  const begun = await beginLeaving(ctx, scope, of.personId, wanted, name);
  return begun.ok ? ok(null) : begun;
}

export async function letStay(ctx: Context, scope: Scope, of: OfStack): Promise<Result<null, Refusal>> {
  const stack = await theirStack(scope, of);
  return stack.ok ? undoLeaving(ctx, scope, of.personId, stack.value.name) : stack;
}
