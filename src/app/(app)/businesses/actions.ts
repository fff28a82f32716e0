'use server';
import { revalidatePath } from 'next/cache';
import { cookies } from 'next/headers';
import { redirect } from 'next/navigation';
import { switchWorkspace } from '@/services/access/sessions';
import { readInput } from '@/services/kit/validation';
import { getContext } from '@/services/runtime';
import { addWorkspace } from '@/services/team/first-door';
import { NewWorkspaceInput } from '@/services/team/inputs';
import type { FormState } from '@/ui/kit/form-state';
import { COOKIE, requireSession } from '../../session';
import { stateOf, typed } from '../form-result';

/** Another business of the same account, and there one is. Only who owns one here makes another. */
export async function addBusinessAction(_: FormState, data: FormData): Promise<FormState> {
  const session = await requireSession();
  const values = typed(data);
  if (session.role !== 'owner')
    return {
      problems: [{ field: 'role', message: 'Only an owner makes another business.' }],
      values,
      done: null,
    };
  const { country = '', ...rest } = values;
  const input = await readInput(NewWorkspaceInput, { ...rest, country: country.trim().toUpperCase() });
  if (!input.ok) return stateOf(input, values, '');
  const made = await addWorkspace(await getContext(), input.value, session.accountId);
  if (!made.ok) return stateOf(made, values, '');
  const token = (await cookies()).get(COOKIE)?.value;
  if (token) await switchWorkspace(await getContext(), token, made.value.workspaceId);
  revalidatePath('/', 'layout');
  redirect('/moving-in');
}
