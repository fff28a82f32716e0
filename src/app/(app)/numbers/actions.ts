'use server';
import { ChangeSenderInput, SenderNumberInput } from '@/services/numbers/inputs';
import { changeNumber, enterNumber, releaseNumber } from '@/services/numbers/sender-numbers';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../press-of';
import { change } from '../../session';
import { field, filled, stateOf, typed } from '../form-result';

export async function enterNumberAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { parts_per_second: pace, daily_cap: cap, mms, ...rest } = filled(values);
  const programs = data.getAll('programs').filter((one) => typeof one === 'string');
  const input = await readInput(SenderNumberInput, {
    ...{ number: '', ...rest, programs },
    ...(pace ? { parts_per_second: Number(pace) } : {}),
    ...(cap ? { daily_cap: Number(cap) } : {}),
    mms: mms === 'on',
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => enterNumber(ctx, scope, input.value, session.accountId),
      pressOf(data),
    ),
    values,
    'Entered.',
  );
}

export async function changeNumberAction(_: FormState, data: FormData): Promise<FormState> {
  const { sender = '', registration, parts_per_second: pace, daily_cap: cap = '', mms } = typed(data);
  const input = await readInput(ChangeSenderInput, {
    ...{ registration, parts_per_second: Number(pace) },
    daily_cap: cap.trim() === '' ? null : Number(cap),
    mms: mms === 'on',
  });
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      changeNumber(ctx, scope, sender, input.value, session.accountId),
    ),
    {},
    'Kept.',
  );
}

export async function releaseNumberAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => releaseNumber(ctx, scope, field(data, 'sender'), session.accountId),
      pressOf(data),
    ),
    {},
    'Given back.',
  );
}
