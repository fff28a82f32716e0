import { NO_ASSIGNMENT } from '@/core/inquiry/assign';
import { parseInstant } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { teamOf } from '@/db/inquiries/inquiries';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, type Refusal } from '@/services/kit/validation';
import { answerThread, closeThread } from './answer-thread';
import { thingsOfRules } from '@/db/inbox/things';
import type { AnswerInput, RepliesInput, ThreadInput } from './inputs';
import { giveThread, putOff, takeUp } from './whose';

/** One verb on a thread. */
export function actOnThread(
  ctx: Context,
  scope: Scope,
  personId: string,
  { verb, account, until }: ThreadInput,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  switch (verb) {
    case 'give':
      return giveThread(ctx, scope, personId, account ?? null, actor);
    case 'later':
      return putOff(ctx, scope, personId, parseInstant(until ?? '') ?? NaN, actor);
    case 'take-up':
      return takeUp(ctx, scope, personId, actor);
    case 'done':
      return closeThread(ctx, scope, personId, actor.accountId ?? actor.name);
  }
}

/** An answer in the words they get. */
export const answerBy = (
  ctx: Context,
  scope: Scope,
  personId: string,
  { body, channel, at, back, prepared, media = [], buttons = [] }: AnswerInput,
  actor: Actor,
): Promise<Result<{ messageId: string }, Refusal>> =>
  answerThread(ctx, scope, personId, body, actor.accountId, {
    channel: channel ?? null,
    ...(at === undefined ? {} : { leavesAt: parseInstant(at) ?? ctx.now() }),
    backAt: back === undefined ? null : parseInstant(back),
    preparedId: prepared ?? null,
    ...{ media, buttons },
  });

/** How soon people should be answered, and who gets what is nobody’s. */
export async function changeReplies(
  ctx: Context,
  scope: Scope,
  { minutes, by, among, whose = {} }: RepliesInput,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const team = (await teamOf(scope)).map(({ id }) => id);
  const unknown = among?.find((id) => !team.includes(id));
  if (unknown !== undefined)
    return invalid('among', 'among: names somebody who is no teammate who answers people.');
  const things = new Set((await thingsOfRules(scope)).map(({ id }) => id));
  if (Object.keys(whose).some((id) => !things.has(id)))
    return invalid('whose', 'whose: names something that is no program, number or source.');
  if (Object.values(whose).some((id) => !team.includes(id)))
    return invalid('whose', 'whose: names somebody who is no teammate who answers people.');
  const rule =
    by || Object.keys(whose).length > 0
      ? { ...NO_ASSIGNMENT, by: by ?? ('turn' as const), among: by ? (among ?? team) : [], kinds: whose }
      : null;
  await scope.em.nativeUpdate(
    Workspace,
    { id: scope.workspaceId },
    { replyMinutes: minutes, replyRule: rule },
  );
  await writeAudit(ctx, scope, actor.name, 'replies.changed', scope.workspaceId, {
    ...{ minutes, by: by ?? null, whose },
  });
  return ok(null);
}
