import { mayAdapt } from '@/core/broadcast/timing';
import { cleanText } from '@/core/shared/clean-text';
import type { Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { announce, callBack } from '@/db/delivery/texts';
import { giveTo } from '@/db/inbox/thread';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { Stack } from '@/db/stacks/entities';
import {
  addRows,
  atHand,
  leaving,
  pressRows,
  repliesOf,
  returnHeld,
  skipRow,
  stackByKey,
  takeNext,
  type AtHand,
} from '@/db/stacks/stacks';
import { Broadcast } from '@/db/sends/entities';
import type { Context } from '@/services/kit/context';
import { hashLinkKey } from '@/services/kit/link-key';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';
import type { PressInput, SkipInput } from './inputs';
import { saidToTeam } from './words';

/** People a desk has at hand: enough for some seconds of pressing while a slow line answers. */
const AT_HAND = 20;

export interface Desk {
  stack: { id: string; name: string; seesNumbers: boolean };
  broadcast: { name: string; state: string; mayAdapt: boolean };
  /** Who is next, in order. */
  next: { id: string; personId: string; name: string; address: string | null; body: string }[];
  /** What whoever runs it says to all who press; null: nothing. */
  words: { body: string; by: string } | null;
  /** How many that were pressed wait for the numbers to be free. */
  leaving: number;
  replies: { personId: string; name: string; since: Millis; words: string }[];
}

/** Whose stack it is: a teammate, or whoever holds its link. */
export type Holder = { accountId: string } | { guest: true };

/** The stack of a teammate in a broadcast. */
export const stackOf = (scope: Scope, sendId: string, accountId: string): Promise<Stack | null> =>
  scope.em.findOne(Stack, { sendId, accountId, endedAt: null });

/** Work in the stack that a link opens, in one transaction with finding it; null: it opens none, or none any more. */
export const inStackOf = <T>(
  ctx: Context,
  key: string,
  work: (scope: Scope, stackId: string) => Promise<T>,
): Promise<T | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const stack = await stackByKey(crossing, hashLinkKey(key), new Date(ctx.now()));
    return stack && work(crossing.within(stack.workspace_id), stack.id);
  });

const nameOf = (row: { first_name: string | null; last_name: string | null }, whole: boolean): string =>
  [row.first_name, whole ? row.last_name : null].filter(Boolean).join(' ');

const stackAsItStands = (scope: Scope, stackId: string): Promise<Stack | null> =>
  scope.em.findOne(Stack, { id: stackId, endedAt: null }, { refresh: true });

/** Whoever has the stack is there: it is heard of, and takes the next ones where people are taken as they come. */
export async function openDesk(ctx: Context, scope: Scope, stackId: string): Promise<Desk | null> {
  const stack = await stackAsItStands(scope, stackId);
  if (!stack) return null;
  const at = new Date(ctx.now());
  stack.heardAt = at;
  await scope.em.flush();
  const next = await atHand(scope, stackId, at, AT_HAND);
  if (stack.takes === null || next.length >= stack.takes / 2) return deskOf(ctx, scope, stack, next);
  await takeMore(scope, stack, stack.takes - next.length);
  return deskOf(ctx, scope, stack, await atHand(scope, stackId, at, AT_HAND));
}

/** Somebody takes so many of the next ones that are nobody’s. Gives how many there were. */
export async function takeMore(scope: Scope, { id, sendId }: Stack, most: number): Promise<number> {
  await addRows(scope, sendId);
  return takeNext(scope, sendId, id, most);
}

/** What a desk shows, without anybody being there. */
export async function readDesk(ctx: Context, scope: Scope, stackId: string): Promise<Desk | null> {
  const stack = await stackAsItStands(scope, stackId);
  return stack && deskOf(ctx, scope, stack, await atHand(scope, stackId, new Date(ctx.now()), AT_HAND));
}

/** A guest sees first names, and numbers only where that was allowed. */
async function deskOf(ctx: Context, scope: Scope, stack: Stack, next: readonly AtHand[]): Promise<Desk> {
  const whole = stack.accountId !== null;
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id: stack.sendId });
  return {
    stack: { id: stack.id, name: stack.name, seesNumbers: whole || stack.seesNumbers },
    broadcast: {
      ...{ name: broadcast.name, state: broadcast.state },
      mayAdapt: broadcast.channel === 'sms' && mayAdapt(broadcast.timing.pace),
    },
    next: next.map((row) => ({
      ...{ id: row.id, personId: row.person_id, name: nameOf(row, whole), body: row.body },
      address: whole || stack.seesNumbers ? row.address : null,
    })),
    words: await saidToTeam(ctx, scope, stack.sendId),
    leaving: await leaving(scope, stack.sendId),
    replies: (await repliesOf(scope, stack.id)).map((row) => ({
      ...{ personId: row.person_id, name: nameOf(row, whole), since: row.since.getTime(), words: row.words },
    })),
  };
}

/**
 * Presses messages: each leaves once, however often it is pressed, and what was not pressed never does. Whoever presses has
 * the conversation from then on.
 */
export async function press(
  ctx: Context,
  scope: Scope,
  stackId: string,
  { messages }: PressInput,
): Promise<Result<{ pressed: string[] }, Refusal>> {
  const stack = await scope.em.findOne(Stack, { id: stackId, endedAt: null });
  if (!stack) return notFound('stack');
  const at = new Date(ctx.now());
  const pressed = await pressRows(scope, { stackId, sendId: stack.sendId }, messages, at);
  if (pressed.length > 0) {
    if (stack.accountId !== null)
      await giveTo(
        scope,
        pressed.map(({ person_id: personId }) => personId),
        stack.accountId,
        at,
      );
    await announce(scope, true);
  }
  return ok({ pressed: pressed.map(({ id }) => id) });
}

/** Passes somebody over: they get nothing of this broadcast. */
export async function skip(
  ctx: Context,
  scope: Scope,
  stackId: string,
  { message, why }: SkipInput,
): Promise<Result<null, Refusal>> {
  const at = new Date(ctx.now());
  const done = await skipRow(scope, { stackId, id: message, why: cleanText(why), at });
  // It can never go: not even when somebody lets the rest leave by itself.
  if (done > 0)
    await callBack(scope, 'id = :message', { message }, at, `passed over by hand: ${cleanText(why)}`);
  if (done === 0)
    return conflict('message', 'message: it was pressed or passed over already, or is not in this stack.');
  await announce(scope, false);
  return ok(null);
}

/** What was pressed and then held, since its hour was over meanwhile, lies in its stack again. */
export const returnWhatIsHeld = (ctx: Context): Promise<number> => acrossWorkspaces(ctx.orm, returnHeld);
