'use server';
import { changePutAway, PutAwayInput } from '@/services/delivery/put-away';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { change } from '../../../session';
import { numberOf, stateOf, typed } from '../../form-result';

export async function putAwayAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { stamp, months = '' } = values;
  const input = await readInput(PutAwayInput, {
    stamp: Number(stamp),
    months: months === '' ? null : numberOf(months),
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change('manage-keys', (scope, session, ctx) =>
      changePutAway(ctx, scope, input.value, session.accountId),
    ),
    values,
    months === '' ? 'Kept. What was put away comes back.' : 'Kept. The worker goes through what is older.',
  );
}
