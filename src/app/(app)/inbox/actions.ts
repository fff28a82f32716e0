'use server';
import { pressOf } from '../../press-of';
import { CHANNELS } from '@/core/message/channel';
import { acceptNearMiss, answerThread, closeThread, decideUnclear } from '@/services/inbox/answer-thread';
import type { Context } from '@/services/kit/context';
import type { Scope } from '@/services/kit/scope';
import { markNoticesRead } from '@/services/inbox/notices';
import type { FormState } from '@/ui/kit/form-state';
import { change } from '../../session';
import { field, stateOf } from '../form-result';

const personOf = (data: FormData): string => field(data, 'person');

/** Who deals with somebody has seen what they were told of them. */
async function seen<T>(
  ctx: Context,
  scope: Scope,
  { accountId }: { accountId: string },
  data: FormData,
  done: Promise<T>,
): Promise<T> {
  const result = await done;
  await markNoticesRead(ctx, scope, accountId, personOf(data));
  return result;
}

export async function answerAction(_: FormState, data: FormData): Promise<FormState> {
  const body = field(data, 'body');
  const asked = field(data, 'channel');
  const channel = CHANNELS.find((one) => one === asked) ?? null;
  const result = await change(
    'answer',
    (scope, session, ctx) =>
      seen(
        ctx,
        scope,
        session,
        data,
        answerThread(ctx, scope, personOf(data), body, session.accountId, channel),
      ),
    pressOf(data),
  );
  return stateOf(result, { body, channel: asked }, 'Sent.');
}

export async function closeAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) =>
        seen(ctx, scope, session, data, closeThread(ctx, scope, personOf(data), session.accountId)),
      pressOf(data),
    ),
    {},
    'Done.',
  );
}

export async function leavesAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) => decideUnclear(ctx, scope, personOf(data), true, session.accountId),
      pressOf(data),
    ),
    {},
    'Opted out.',
  );
}

export async function staysAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) => decideUnclear(ctx, scope, personOf(data), false, session.accountId),
      pressOf(data),
    ),
    {},
    'They stay.',
  );
}

export async function nearMissAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) => acceptNearMiss(ctx, scope, personOf(data), session.accountId),
      pressOf(data),
    ),
    {},
    'Joined.',
  );
}
