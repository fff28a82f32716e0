'use server';
import { acceptNearMiss, answerThread, closeThread, decideUnclear } from '@/services/answer-thread';
import type { FormState } from '@/ui/form-state';
import { change } from '../../session';
import { stateOf } from '../form-result';

const personOf = (data: FormData): string => String(data.get('person') ?? '');

export async function answerAction(_: FormState, data: FormData): Promise<FormState> {
  const body = String(data.get('body') ?? '');
  const result = await change('answer', (scope, session, ctx) =>
    answerThread(ctx, scope, personOf(data), body, session.accountId),
  );
  return stateOf(result, { body }, 'Sent.');
}

export async function closeAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('answer', (scope, session, ctx) =>
      closeThread(ctx, scope, personOf(data), session.accountId),
    ),
    {},
    'Done.',
  );
}

export async function leavesAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('answer', (scope, session, ctx) =>
      decideUnclear(ctx, scope, personOf(data), true, session.accountId),
    ),
    {},
    'Opted out.',
  );
}

export async function staysAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('answer', (scope, session, ctx) =>
      decideUnclear(ctx, scope, personOf(data), false, session.accountId),
    ),
    {},
    'They stay.',
  );
}

export async function nearMissAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('answer', (scope, session, ctx) =>
      acceptNearMiss(ctx, scope, personOf(data), session.accountId),
    ),
    {},
    'Joined.',
  );
}
