import { mentioned } from '@/core/inbox/mentions';
import { cleanText, cutText } from '@/core/shared/clean-text';
import type { Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { announce, callBack } from '@/db/delivery/texts';
import { Message } from '@/db/delivery/entities';
import { PreparedUse, Thread, ThreadNote, ThreadTurn } from '@/db/inbox/entities';
import { backIn, comesBack, giveTo, handOverAll, putOffUntil, settleWhy } from '@/db/inbox/thread';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { lockPerson } from '@/db/people/locks';
import { teamOf } from '@/db/inquiries/inquiries';
import { Person } from '@/db/people/entities';
import { ownsPeople } from '@/services/access/teammates';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { inEach } from '@/services/kit/in-each';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { FARTHEST } from './answer-thread';
import { tellOfThreads } from './tell-teammates';

/** Gives a thread to a teammate, who is told; null: to nobody, so that it is whose the person is. */
export async function giveThread(
  ctx: Context,
  scope: Scope,
  personId: string,
  accountId: string | null,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  if (!(await lockPerson(scope, personId))) return notFound('person');
  if (accountId !== null && !(await ownsPeople(scope, accountId)))
    return invalid('account', 'account: is no teammate who answers people. Choose another.');
  const at = new Date(ctx.now());
  await giveTo(scope, [personId], accountId, at);
  if (accountId !== null && accountId !== actor.accountId)
    await tellOfThreads(ctx, scope, [
      { id: ctx.id('ntc'), accountId, personId, kind: 'thread.given', subject: null, at },
    ]);
  await writeAudit(ctx, scope, actor.name, 'thread.given', personId, { account: accountId });
  return ok(null);
}

/** Whoever goes away hands over what waits for them, and what they put off; who takes it is told once for each. */
export async function handOver(
  ctx: Context,
  scope: Scope,
  { from, to }: { from: string; to: string },
  actor: Actor,
): Promise<Result<{ threads: number }, Refusal>> {
  if (from === to || !(await ownsPeople(scope, to)))
    return invalid('to', 'to: must be another teammate who answers people.');
  const at = new Date(ctx.now());
  const people = await handOverAll(scope, { from, to, at });
  await tellOfThreads(
    ctx,
    scope,
    people.map((personId) => ({
      ...{ id: ctx.id('ntc'), accountId: to, personId, kind: 'thread.given' as const, subject: null, at },
    })),
  );
  const threads = people.length;
  await writeAudit(ctx, scope, actor.name, 'threads.handed-over', from, { to, threads });
  return ok({ threads });
}

/** Puts a thread off: it is back at that time, or at once when they write. */
export async function putOff(
  ctx: Context,
  scope: Scope,
  personId: string,
  until: Millis,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  const at = ctx.now();
  if (!(until > at && until <= at + FARTHEST))
    return invalid('until', 'until: must be a time from now on, within a year.');
  if (person.unclearSince !== null)
    return conflict(
      'until',
      'until: their reply may be an opt-out. Decide that first: nothing goes to them before.',
    );
  await putOffUntil(scope, personId, { until: new Date(until), why: 'later', at: new Date(at) });
  await writeAudit(ctx, scope, actor.name, 'thread.put-off', personId, {
    until: new Date(until).toISOString(),
  });
  return ok(null);
}

/** It is back now: nothing is put off any more. */
export async function takeUp(
  ctx: Context,
  scope: Scope,
  personId: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const person = await lockPerson(scope, personId);
  if (!person) return notFound('person');
  await settleWhy(scope, personId, null);
  await writeAudit(ctx, scope, actor.name, 'thread.taken-up', personId);
  await scope.em.nativeUpdate(
    Person,
    { id: personId, waitingSince: null },
    { waitingSince: new Date(ctx.now()) },
  );
  return ok(null);
}

const LONGEST_NOTE = 4_000;

/** Words for teammates alone; whom it calls by @name is told. */
export async function noteOnThread(
  ctx: Context,
  scope: Scope,
  personId: string,
  words: string,
  actor: Actor,
): Promise<Result<ThreadNote, Refusal>> {
  const body = cleanText(words).trim();
  if (body === '') return invalid('note', 'note: write something first.');
  if (body.length > LONGEST_NOTE)
    return invalid('note', `note: is too long: at most ${LONGEST_NOTE} characters.`);
  if (!(await lockPerson(scope, personId))) return notFound('person');
  const at = new Date(ctx.now());
  const note = scope.em.create(ThreadNote, {
    ...{ id: ctx.id('nte'), workspaceId: scope.workspaceId, personId, accountId: actor.accountId, body, at },
  });
  await scope.em.persistAndFlush(note);
  await tellOfThreads(
    ctx,
    scope,
    mentioned(body, await teamOf(scope))
      .filter(({ id }) => id !== actor.accountId)
      .map(({ id }) => ({
        ...{ id: ctx.id('ntc'), accountId: id, personId, kind: 'note.called' as const, at },
        subject: cutText(body, 300),
      })),
  );
  await announce(scope, false);
  return ok(note);
}

/** Takes one's own note back. */
export async function removeNote(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const gone = await scope.em.nativeDelete(ThreadNote, { id, accountId: actor.accountId });
  if (gone === 0) return notFound('note');
  await writeAudit(ctx, scope, actor.name, 'note.removed', id);
  return ok(null);
}

/** Takes an answer back before it leaves: the thread waits again as it did. Gives its words. */
export async function takeAnswerBack(
  ctx: Context,
  scope: Scope,
  messageId: string,
  actor: Actor,
): Promise<Result<{ body: string }, Refusal>> {
  const message = await scope.em.findOne(Message, { id: messageId, kind: 'answer' });
  if (!message || !(await lockPerson(scope, message.personId))) return notFound('answer');
  const at = new Date(ctx.now());
  const back = await callBack(
    scope,
    `id = :messageId and kind = 'answer' and state = 'queued' and not_before > :now`,
    { messageId, now: at },
    at,
    'taken back by who wrote it',
  );
  if (back === 0) return conflict('answer', 'answer: it has left already.');
  const turn = await scope.em.findOne(ThreadTurn, { messageId });
  await scope.em.nativeDelete(PreparedUse, { messageId });
  await settleWhy(scope, message.personId, null);
  if (turn) {
    await scope.em.nativeDelete(ThreadTurn, { id: turn.id });
    await scope.em.nativeUpdate(Thread, { personId: message.personId }, { why: turn.why, whyAt: turn.since });
    await scope.em.nativeUpdate(
      Person,
      { id: message.personId, waitingSince: null },
      { waitingSince: turn.since },
    );
  }
  await writeAudit(ctx, scope, actor.name, 'answer.taken-back', messageId);
  return ok({ body: message.body });
}

/** Tells whose they are of threads that are back from being put off. One workspace that cannot be told holds up no other. */
export async function tellWhoComesBack(ctx: Context): Promise<number> {
  const at = new Date(ctx.now());
  const back = await acrossWorkspaces(ctx.orm, (crossing) => backIn(crossing, at));
  return inEach(ctx, back, 'Nobody could be told who is back; it is tried again.', (scope) =>
    tellOf(ctx, scope, at),
  );
}

async function tellOf(ctx: Context, scope: Scope, at: Date): Promise<number> {
  const back = await comesBack(scope, at);
  await tellOfThreads(
    ctx,
    scope,
    back.flatMap(({ person_id: personId, account_id: accountId }) =>
      accountId === null
        ? []
        : [{ id: ctx.id('ntc'), accountId, personId, kind: 'thread.back' as const, subject: null, at }],
    ),
  );
  await announce(scope, false);
  return back.length;
}
