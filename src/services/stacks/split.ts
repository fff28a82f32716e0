import { deal } from '@/core/stack/deal';
import { HOUR } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { clean } from '@/core/people/values';
import type { Scope } from '@/db/kit/scope';
import { Account } from '@/db/access/entities';
import { Broadcast } from '@/db/sends/entities';
import { Stack } from '@/db/stacks/entities';
import { addRows, giveRows, loose, putInto } from '@/db/stacks/stacks';
import { ownsPeople } from '@/services/access/teammates';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { hashLinkKey, newLinkKey } from '@/services/kit/link-key';
import { publicUrl } from '@/services/kit/settings';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { takeMore } from './press';
import type { HolderInput, SplitInput, StackInput } from './inputs';

/** People that somebody who takes as they come has at hand at once. */
const TAKES = 20;
const USUAL_HOURS = 24;

/** A stack with the address of its link, which is given once. */
export interface NewStack {
  stack: Stack;
  /** Null: a teammate finds it under the broadcast. */
  url: string | null;
}

/** The broadcast is one that is sent by hand, and is going out. */
async function handSent(scope: Scope, id: string): Promise<Result<Broadcast, Refusal>> {
  await scope.rows(`select 1 from broadcast where workspace_id = :workspace and id = :id for update`, { id });
  const broadcast = await scope.em.findOne(Broadcast, { id }, { refresh: true });
  if (!broadcast) return notFound('broadcast');
  if (!broadcast.timing.pace || !('hands' in broadcast.timing.pace))
    return conflict('broadcast', 'broadcast: it goes by itself. Only one that is sent by hand has stacks.');
  return broadcast.state === 'sending' || broadcast.state === 'paused'
    ? ok(broadcast)
    : conflict(
        'broadcast',
        'broadcast: it can be split once it is ready, and as long as it has not been stopped.',
      );
}

/** Splits what is nobody's among those who are named; who has a stack already gets more into it. */
export async function splitSend(
  ctx: Context,
  scope: Scope,
  sendId: string,
  { how, holders }: SplitInput,
  actor: Actor,
): Promise<Result<NewStack[], Refusal>> {
  const found = await handSent(scope, sendId);
  if (!found.ok) return found;
  const stacks: NewStack[] = [];
  for (const [i, holder] of holders.entries()) {
    const one = await stackFor(ctx, scope, sendId, holder, how === 'as-they-come' ? TAKES : null, actor);
    if (!one.ok)
      return {
        ok: false,
        reason: {
          ...one.reason,
          problems: one.reason.problems.map(({ field, message }) => ({
            field: `holders.${i}.${field}`,
            message: `holders.${i}.${message}`,
          })),
        },
      };
    stacks.push(one.value);
  }
  await addRows(scope, sendId);
  if (how !== 'as-they-come') {
    const dealt = deal(
      await loose(scope, sendId),
      stacks.map(({ stack: { id } }, i) => ({ id, count: holders[i]!.count ?? 0 })),
      how,
    );
    await putInto(
      scope,
      [...dealt].flatMap(([id, stackId]) => (stackId === null ? [] : [{ id, stackId }])),
    );
  }
  await writeAudit(ctx, scope, actor.name, 'broadcast.split', sendId, {
    how,
    among: stacks.map(({ stack }) => stack.name),
  });
  return ok(stacks);
}

async function stackFor(
  ctx: Context,
  scope: Scope,
  sendId: string,
  { account, guest, hours = USUAL_HOURS, sees_numbers: seesNumbers = false }: HolderInput,
  takes: number | null,
  actor: Actor,
): Promise<Result<NewStack, Refusal>> {
  const named = clean(guest ?? '');
  if ((account === undefined) === (named === ''))
    return invalid('guest', 'guest: name either a teammate, or how the guest is called.');
  if (account !== undefined && !(await ownsPeople(scope, account)))
    return invalid('account', 'account: is no teammate who answers people. Choose another.');
  const known = account
    ? await scope.em.findOne(Stack, { sendId, accountId: account, endedAt: null }, { refresh: true })
    : null;
  if (known) {
    known.takes = takes;
    await scope.em.flush();
    return ok({ stack: known, url: null });
  }
  const secret = account === undefined ? newLinkKey() : null;
  const at = ctx.now();
  const stack = scope.em.create(Stack, {
    ...{ id: ctx.id('stk'), workspaceId: scope.workspaceId, sendId, accountId: account ?? null, takes },
    name: account === undefined ? named : (await scope.em.findOneOrFail(Account, { id: account })).name,
    ...{ keyHash: secret && hashLinkKey(secret), keyEndsAt: secret ? new Date(at + hours * HOUR) : null },
    ...{ seesNumbers, heardAt: null, endedAt: null, createdBy: actor.accountId, createdAt: new Date(at) },
  });
  await scope.em.persistAndFlush(stack);
  return ok({ stack, url: secret && stackUrl(secret) });
}

const stackUrl = (secret: string): string => `${publicUrl()}/stack/${secret}`;

/** Ends a stack, moves what is left of it, or gives a new link. Gives the link, once. */
export async function actOnStack(
  ctx: Context,
  scope: Scope,
  id: string,
  { verb, to, people }: StackInput,
  actor: Actor,
): Promise<Result<{ url: string | null; moved: number }, Refusal>> {
  const stack = await scope.em.findOne(Stack, { id });
  if (!stack) return notFound('stack');
  const other =
    verb === 'move' ? await scope.em.findOne(Stack, { id: to ?? '', sendId: stack.sendId }) : null;
  if (verb === 'move' && (!other || other.id === id || other.endedAt !== null))
    return invalid('to', 'to: must be another stack of the same broadcast that has not ended.');
  if (verb === 'link' && stack.accountId !== null)
    return conflict('verb', 'verb: a teammate needs no link. They find it under the broadcast.');
  if (verb === 'take') {
    if (stack.takes === null || stack.endedAt !== null)
      return conflict('verb', 'verb: nobody is taken as they come in this stack. Move people to it instead.');
    return ok({ url: null, moved: await takeMore(scope, stack, stack.takes) });
  }
  const secret = verb === 'link' ? newLinkKey() : null;
  const moved =
    verb === 'link'
      ? 0
      : await giveRows(scope, {
          from: id,
          to: other?.id ?? null,
          most: verb === 'move' ? (people ?? null) : null,
        });
  if (verb === 'end') Object.assign(stack, { endedAt: new Date(ctx.now()), keyHash: null });
  if (secret)
    Object.assign(stack, {
      keyHash: hashLinkKey(secret),
      keyEndsAt: new Date(ctx.now() + USUAL_HOURS * HOUR),
      endedAt: null,
    });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, `stack.${verb}`, id, {
    moved,
    ...(other ? { to: other.name } : {}),
  });
  return ok({ url: secret && stackUrl(secret), moved });
}
