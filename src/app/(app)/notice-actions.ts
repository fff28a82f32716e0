'use server';
import { ok } from '@/core/shared/result';
import { markNoticesRead } from '@/services/inbox/notices';
import type { FormState } from '@/ui/kit/form-state';
import { change } from '../session';
import { field, stateOf } from './form-result';

/** What was told about somebody was seen; with no person named: everything. */
export async function noticesReadAction(_: FormState, data: FormData): Promise<FormState> {
  const person = field(data, 'person') || null;
  const result = await change('answer', async (scope, session, ctx) => {
    await markNoticesRead(ctx, scope, session.accountId, person);
    return ok(null);
  });
  return stateOf(result, {}, 'Seen.');
}
