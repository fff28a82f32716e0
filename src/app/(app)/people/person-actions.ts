'use server';
import { pressOf } from '../../press-of';
import { redirect } from 'next/navigation';
import { cutText } from '@/core/shared/clean-text';
import { ok } from '@/core/shared/result';
import { editPerson } from '@/services/people/edit-person';
import { erasePerson } from '@/services/people/erase-person';
import { findOrMakeLabel, setLabel } from '@/services/people/labels';
import { invalid } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { change } from '../../session';
import { sentence, stateOf, typed } from '../form-result';

export async function editPersonAction(id: string, field: string, value: string): Promise<string | null> {
  const result = await change('edit-people', (scope, session, ctx) =>
    editPerson(ctx, scope, id, field, cutText(value, 1_000), session.accountId),
  );
  return result.ok ? null : sentence(result.reason);
}

export async function labelPersonAction(
  id: string,
  kind: 'tag' | 'list',
  name: string,
  on: boolean,
): Promise<string | null> {
  const result = await change('edit-people', async (scope, session, ctx) => {
    const label = await findOrMakeLabel(
      ctx,
      scope,
      kind === 'list' ? 'list' : 'tag',
      name,
      session.accountId,
    );
    if (!label.ok) return label;
    await setLabel(ctx, scope, label.value.id, [id], on);
    return ok(null);
  });
  return result.ok ? null : sentence(result.reason);
}

export async function erasePersonAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const result = await change(
    'edit-people',
    (scope, session, ctx) =>
      values.sure === 'erase'
        ? erasePerson(ctx, scope, values.id ?? '', session.accountId)
        : Promise.resolve(invalid('sure', 'sure: type “erase” to go on.')),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, values, '');
  redirect('/people');
}
