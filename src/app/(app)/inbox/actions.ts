'use server';
import { pressOf } from '../../press-of';
import { CHANNELS, type Channel } from '@/core/message/channel';
import type { Result } from '@/core/shared/result';
import type { Refusal } from '@/services/kit/validation';
import { wordAnswer } from '@/services/inbox/word-answer';
import { acceptNearMiss, answerThread, closeThread } from '@/services/inbox/answer-thread';
import { endPause } from '@/services/consent/pause';
import { beginLeaving, decideUnclear, undoLeaving } from '@/services/inbox/leave-by-hand';
import { pauseAsWished } from '@/services/inbox/pause-as-wished';
import type { Context } from '@/services/kit/context';
import type { Scope } from '@/services/kit/scope';
import { markNoticesRead } from '@/services/inbox/notices';
import type { FormState } from '@/ui/kit/form-state';
import type { SignedIn } from '@/services/access/sessions';
import { change } from '../../session';
import { field, stateOf, typed } from '../form-result';

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

/** What was written in the editor, in the words they get. */
async function answerWith(
  ctx: Context,
  scope: Scope,
  { name, accountId }: { name: string; accountId: string },
  { personId, source, channel }: { personId: string; source: string; channel: Channel | null },
): Promise<Result<null, Refusal>> {
  const senderName = name.split(' ')[0] ?? null;
  const text = await wordAnswer(ctx, scope, personId, { source, senderName });
  return text.ok ? answerThread(ctx, scope, personId, text.value, accountId, channel) : text;
}

export async function answerAction(_: FormState, data: FormData): Promise<FormState> {
  const wanted = { personId: personOf(data), source: field(data, 'body') };
  const asked = field(data, 'channel');
  const channel = CHANNELS.find((one) => one === asked) ?? null;
  const result = await change(
    'answer',
    (scope, session, ctx) =>
      seen(ctx, scope, session, data, answerWith(ctx, scope, session, { ...wanted, channel })),
    pressOf(data),
  );
  return stateOf(result, { channel: asked }, 'Sent.');
}

/** What is done about one person, with what was typed for it and the word that it is done. */
async function act(
  data: FormData,
  done: string,
  work: (of: {
    ctx: Context;
    scope: Scope;
    personId: string;
    accountId: string;
    session: SignedIn;
  }) => Promise<Result<unknown, Refusal>>,
): Promise<FormState> {
  const result = await change(
    'answer',
    (scope, session, ctx) =>
      work({ ctx, scope, personId: personOf(data), accountId: session.accountId, session }),
    pressOf(data),
  );
  return stateOf(result, typed(data), done);
}

export const closeAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Done.', ({ ctx, scope, personId, accountId, session }) =>
    seen(ctx, scope, session, data, closeThread(ctx, scope, personId, accountId)),
  );

export async function leaveAction(_: FormState, data: FormData): Promise<FormState> {
  const wanted = {
    program: field(data, 'program') || null,
    confirms: field(data, 'confirm') === 'on',
    why: field(data, 'why'),
  };
  return act(data, 'It counts in ten seconds.', ({ ctx, scope, personId, accountId }) =>
    beginLeaving(ctx, scope, personId, wanted, accountId),
  );
}

export const undoLeaveAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Taken back.', ({ ctx, scope, personId, accountId }) =>
    undoLeaving(ctx, scope, personId, accountId),
  );

/** Their reply, where there is one that is in doubt, is the evidence and is settled with it. */
export async function pauseAction(_: FormState, data: FormData): Promise<FormState> {
  const wanted = { until: field(data, 'until'), why: field(data, 'why') };
  return act(data, 'Paused.', ({ ctx, scope, personId, accountId }) =>
    pauseAsWished(ctx, scope, personId, wanted, accountId),
  );
}

export const endPauseAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'The pause has ended.', ({ ctx, scope, personId, accountId }) =>
    endPause(ctx, scope, personId, accountId),
  );

export const staysAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'They stay.', ({ ctx, scope, personId, accountId }) =>
    decideUnclear(ctx, scope, personId, false, accountId),
  );

export const nearMissAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Joined.', ({ ctx, scope, personId, accountId }) =>
    acceptNearMiss(ctx, scope, personId, accountId),
  );
