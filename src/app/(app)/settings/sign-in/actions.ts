'use server';
import { revalidatePath } from 'next/cache';
import { endSession } from '@/services/access/sessions';
import { getContext } from '@/services/runtime';
import { invalid } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { requireSession } from '../../../session';
import { field, stateOf } from '../../form-result';

/** Signs one other browser of one's own out. */
export async function endSessionAction(_: FormState, data: FormData): Promise<FormState> {
  const { accountId } = await requireSession();
  const ended = await endSession(await getContext(), accountId, field(data, 'session'));
  revalidatePath('/settings/sign-in');
  return stateOf(
    ended ? { ok: true, value: null } : invalid('session', 'session: it had ended already.'),
    {},
    'Signed out.',
  );
}
