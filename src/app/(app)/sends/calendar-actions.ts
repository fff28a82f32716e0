'use server';
import { ok } from '@/core/shared/result';
import { endSendsCalendar, newSendsCalendar } from '@/services/sends/calendar';
import { moveByDays } from '@/services/sends/reschedule';
import type { FormState } from '@/ui/kit/form-state';
import { actorOf, change } from '../../session';
import { field, sentence, stateOf } from '../form-result';

/** A scheduled broadcast goes so many days later, at the same time of day. Null: it does; else why not. */
export async function moveDaysAction(id: string, days: number): Promise<string | null> {
  const result = await change('send', (scope, session, ctx) =>
    moveByDays(ctx, scope, String(id), Number(days), actorOf(session)),
  );
  return result.ok ? null : sentence(result.reason);
}

export async function sendsCalendarAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change('read', async (scope, session, ctx) => {
    if (field(data, 'verb') === 'new') return ok(await newSendsCalendar(ctx, scope, actorOf(session)));
    await endSendsCalendar(ctx, scope, actorOf(session));
    return ok('Ended.');
  });
  return stateOf(result, {}, result.ok ? result.value : '');
}
