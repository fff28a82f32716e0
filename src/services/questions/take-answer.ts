import { askedOf } from '@/core/question/fields';
import { afterAnswer, patienceOf, type Next } from '@/core/question/next';
import { readAnswer, type Answer } from '@/core/question/read-answer';
import type { Interpretation } from '@/core/reply/interpret';
import type { Millis } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { lockOpenAsking, settleStep } from '@/db/questions/askings';
import { Asking } from '@/db/questions/entities';
import { ownFields } from '@/services/audience/own-fields';
import type { Context } from '@/services/kit/context';
import { ask, say } from './ask';
import { followOnSilence } from './after-silence';
import { keepValues, valuesOf } from './keep';
import { readingAt } from './reading';

/** What a reply says to the question that stands open for them. */
export interface Answering {
  asking: Asking;
  answer: Answer;
  next: Next;
}

/** Reads a reply as the answer to the question that stands open; null when none does, or it was asked later. */
export async function readReply(
  scope: Scope,
  personId: string,
  text: { body: string; at: Millis },
): Promise<Answering | null> {
  const open = await lockOpenAsking(scope, personId);
  if (!open || open.asked_at.getTime() > text.at) return null;
  const asking = await scope.em.findOneOrFail(Asking, { id: open.id }, { refresh: true });
  const asked = askedOf(asking.questions[asking.at]!.field, await ownFields(scope, true));
  if (!asked) return null;
  const answer = readAnswer(asked, text.body, await readingAt(scope, text.at, asking.partial));
  return { asking, answer, next: afterAnswer(asking, answer) };
}

/** A reply that answers is no near miss of a keyword, and needs no human unless it could not be read twice. */
export function answerMeaning(reply: Interpretation, { asking, next }: Answering): Interpretation {
  const rule = `answer:${asking.questions[asking.at]!.field}`;
  if (next.do === 'wait') return reply;
  const needsHuman = next.do === 'settle' && next.waiting;
  return { ...reply, meaning: needsHuman ? 'reply' : 'answer', rule, nearKeyword: null };
}

/** Keeps what they answered and asks what comes next. */
export async function takeAnswer(
  ctx: Context,
  scope: Scope,
  { asking, answer, next }: Answering,
): Promise<void> {
  const now = ctx.now();
  const { field } = asking.questions[asking.at]!;
  switch (next.do) {
    case 'wait':
    case 'stop':
      return;
    case 'again':
      asking.times = 2;
      asking.partial = answer.is === 'partial' ? answer.partial : asking.partial;
      asking.dueAt = new Date(now + patienceOf(2));
      await scope.em.flush();
      return ask(ctx, scope, asking, { kind: 'asking', missing: next.missing });
    case 'settle': {
      const source = 'their answer by text';
      const kept = await keepValues(ctx, scope, asking.personId, valuesOf(field, answer), source);
      await settleStep(scope, asking, kept ? next.outcome : 'unreadable', new Date(now));
      return goOn(ctx, scope, asking);
    }
  }
}

/** The next question, or the end. */
async function goOn(ctx: Context, scope: Scope, asking: Asking): Promise<void> {
  const now = ctx.now();
  const own = await ownFields(scope);
  const rest = asking.questions.findIndex(
    ({ field }, place) => place > asking.at && askedOf(field, own) !== null,
  );
  if (rest < 0) return finish(ctx, scope, asking);
  Object.assign(asking, { at: rest, times: 1, partial: null, dueAt: new Date(now + patienceOf(1)) });
  await scope.em.flush();
  await ask(ctx, scope, asking, { kind: 'asking' });
}

async function finish(ctx: Context, scope: Scope, asking: Asking): Promise<void> {
  if (await followOnSilence(ctx, scope, asking, 'answered')) return;
  if (asking.thanks.trim() !== '') await say(ctx, scope, asking, asking.thanks.trim(), { kind: 'asking' });
}
