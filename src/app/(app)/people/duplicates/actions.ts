'use server';
import { pressOf } from '../../../press-of';
import { redirect } from 'next/navigation';
import { dismissPair, startSearch } from '@/services/people/duplicates';
import { mergePeople } from '@/services/people/merge-people';
import { undoMerge } from '@/services/people/undo-merge';
import type { FormState } from '@/ui/kit/form-state';
import { actorOf, change } from '../../../session';
import { stateOf, typed } from '../../form-result';

export async function searchAction(_: FormState, __: FormData): Promise<FormState> {
  return stateOf(await change('edit-people', (scope, _session, ctx) => startSearch(ctx, scope)), {}, '');
}

export async function dismissAction(_: FormState, data: FormData): Promise<FormState> {
  const { one = '', other = '' } = typed(data);
  return stateOf(
    await change(
      'edit-people',
      (scope, session, ctx) => dismissPair(ctx, scope, one, other, session.accountId),
      pressOf(data),
    ),
    {},
    '',
  );
}

export async function mergeAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { kept = '', gone = '' } = values;
  const choices = Object.fromEntries(
    Object.entries(values)
      .filter(([name]) => name.startsWith('choice:'))
      .map(([name, value]) => [
        name.slice('choice:'.length),
        value === 'other' ? ('other' as const) : ('one' as const),
      ]),
  );
  const result = await change(
    'edit-people',
    (scope, session, ctx) => mergePeople(ctx, scope, kept, gone, choices, actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, values, '');
  redirect(`/people/${kept}`);
}

export async function undoMergeAction(_: FormState, data: FormData): Promise<FormState> {
  const { merge = '' } = typed(data);
  const result = await change(
    'edit-people',
    (scope, session, ctx) => undoMerge(ctx, scope, merge, session.accountId),
    pressOf(data),
  );
  return stateOf(result, {}, 'Taken apart again.');
}
