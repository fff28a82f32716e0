'use server';
import { MailFromInput } from '@/services/email/inputs';
import { setMailFrom } from '@/services/email/settings';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../press-of';
import { actorOf, change } from '../../session';
import { stateOf, typed } from '../form-result';

export async function mailFromAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(MailFromInput, values);
  if (!input.ok) return stateOf(input, values, '');
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => setMailFrom(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, values, 'Kept.');
}
