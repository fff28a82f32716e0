'use server';
import { commaList } from '@/core/shared/comma-list';
import { invalid, readInput } from '@/services/kit/validation';
import { changeCall, recordCall, settleCalls } from '@/services/calls/by-hand';
import { CallOutcomeInput, ChangeCallInput, NewCallInput } from '@/services/calls/inputs';
import { archiveOutcome, changeOutcome, createOutcome } from '@/services/calls/outcomes';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../../press-of';
import { actorOf, change } from '../../../session';
import { field, filled, sentence, stateOf, typed } from '../../form-result';

export async function recordCallAction(
  { person, sender, outcome, note }: { person: string; sender: string | null; outcome: string; note: string },
  press: string,
): Promise<string | null> {
  const input = await readInput(NewCallInput, {
    ...{ person, outcome, note },
    ...(sender ? { sender_number: sender } : {}),
  });
  if (!input.ok) return sentence(input.reason);
  const result = await change(
    'answer',
    (scope, session, ctx) => recordCall(ctx, scope, input.value, actorOf(session)),
    press,
  );
  return result.ok ? null : sentence(result.reason);
}

export async function settleCallsAction(person: string, press: string): Promise<string | null> {
  const result = await change(
    'answer',
    (scope, session, ctx) => settleCalls(ctx, scope, String(person), actorOf(session)),
    press,
  );
  return result.ok ? null : sentence(result.reason);
}

/** A call noted in a thread. */
export async function noteCallAction(_: FormState, data: FormData): Promise<FormState> {
  const { minutes = '', direction, outcome, note = '', person } = typed(data);
  const values = { minutes, direction: direction ?? 'out', outcome: outcome ?? '', note };
  const spoken = Number(minutes);
  if (!(spoken >= 0 && spoken <= 600))
    return stateOf(invalid('minutes', 'minutes: must be a number from 0 to 600.'), values, '');
  const input = await readInput(NewCallInput, {
    ...{ person, outcome, direction, note },
    ...(minutes.trim() === '' ? {} : { seconds: Math.round(spoken * 60) }),
  });
  if (!input.ok) return stateOf(input, values, '');
  const result = await change(
    'answer',
    (scope, session, ctx) => recordCall(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, result.ok ? {} : values, 'Noted.');
}

/** Another outcome of a call that stands in a thread. */
export async function changeCallAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(ChangeCallInput, { outcome: values.outcome, note: values.note ?? '' });
  if (!input.ok) return stateOf(input, values, '');
  const result = await change(
    'answer',
    (scope, session, ctx) => changeCall(ctx, scope, field(data, 'call'), input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, values, 'Noted.');
}

const outcomeFields = (values: Record<string, string>) => {
  const { calls = '', missed, reached, outcome: _, ...rest } = filled(values);
  return {
    ...rest,
    calls: commaList(calls),
    ...{ missed: missed === 'yes', reached: reached === 'yes' },
  };
};

/** A new outcome, or where the form names one that one changed. */
export async function keepOutcomeAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(CallOutcomeInput, outcomeFields(values));
  if (!input.ok) return stateOf(input, values, '');
  const id = field(data, 'outcome');
  const result = await change(
    'edit-programs',
    (scope, session, ctx) =>
      id === ''
        ? createOutcome(ctx, scope, input.value, actorOf(session))
        : changeOutcome(ctx, scope, id, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, values, id === '' ? 'Made.' : 'Saved.');
}

export async function archiveOutcomeAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => archiveOutcome(ctx, scope, field(data, 'outcome'), actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, 'Taken out of use.');
}
