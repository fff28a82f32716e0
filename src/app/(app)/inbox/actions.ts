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

export async function leaveAction(_: FormState, data: FormData): Promise<FormState> {
  const wanted = {
    program: field(data, 'program') || null,
    confirms: field(data, 'confirm') === 'on',
    why: field(data, 'why'),
  };
  const result = await change(
    'answer',
    (scope, session, ctx) => beginLeaving(ctx, scope, personOf(data), wanted, session.accountId),
    pressOf(data),
  );
  return stateOf(result, typed(data), 'It counts in ten seconds.');
}

export async function undoLeaveAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) => undoLeaving(ctx, scope, personOf(data), session.accountId),
      pressOf(data),
    ),
    {},
    'Taken back.',
  );
}

/** Their reply, where there is one that is in doubt, is the evidence and is settled with it. */
export async function pauseAction(_: FormState, data: FormData): Promise<FormState> {
  const wanted = { until: field(data, 'until'), why: field(data, 'why') };
  const result = await change(
    'answer',
    (scope, session, ctx) => pauseAsWished(ctx, scope, personOf(data), wanted, session.accountId),
    pressOf(data),
  );
  return stateOf(result, typed(data), 'Paused.');
}

export async function endPauseAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) => endPause(ctx, scope, personOf(data), session.accountId),
      pressOf(data),
    ),
    {},
    'The pause has ended.',
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
