'use server';
import { redirect } from 'next/navigation';
import { cutText } from '@/core/shared/clean-text';
import { parseJson } from '@/core/shared/json';
import { changeForm, createForm, publishForm } from '@/services/forms/forms';
import { dropSubmission, releaseSubmission } from '@/services/forms/held';
import { ChangeFormInput, NewFormInput } from '@/services/forms/inputs';
import { readInput } from '@/services/kit/validation';
import type { FormDraft } from '@/ui/forms/form-desk';
import type { FormState } from '@/ui/kit/form-state';
import type { Problems } from '@/ui/kit/labelled';
import { pressOf } from '../../../press-of';
import { actorOf, change } from '../../../session';
import { stateOf, typed } from '../../form-result';

/** A form to begin with, or the one that was pasted as JSON. */
export async function createFormAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const pasted = parseJson(cutText(values.document ?? '', 200_000));
  const input = await readInput(NewFormInput, {
    ...{ name: values.name, program: values.program },
    ...((values.document ?? '').trim() === '' ? {} : { document: pasted.ok ? pasted.value : 'none' }),
  });
  if (!input.ok) return stateOf(input, values, '');
  const made = await change(
    'edit-programs',
    (scope, session, ctx) => createForm(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  if (!made.ok) return stateOf(made, values, '');
  redirect(`/programs/forms/${made.value.id}`);
}

export async function saveFormAction(
  id: string,
  stamp: number,
  draft: FormDraft,
  press: string,
): Promise<Problems> {
  const { name, document, welcome, labels, sequences, offer, source } = draft;
  const input = await readInput(ChangeFormInput, {
    ...{ stamp, name, document, welcome, labels, sequences, offer, source },
  });
  if (!input.ok) return { problems: input.reason.problems };
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => changeForm(ctx, scope, String(id), input.value, actorOf(session)),
    String(press),
  );
  return { problems: result.ok ? [] : result.reason.problems };
}

export async function publishFormAction(id: string, stamp: number, press: string): Promise<Problems> {
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => publishForm(ctx, scope, String(id), Number(stamp), actorOf(session)),
    String(press),
  );
  return { problems: result.ok ? [] : result.reason.problems };
}

/** Closes a form, or opens it again. */
export async function closeFormAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', stamp = '', closed = '' } = typed(data);
  const result = await change(
    'edit-programs',
    (scope, session, ctx) =>
      changeForm(ctx, scope, id, { stamp: Number(stamp), closed: closed === 'yes' }, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, closed === 'yes' ? 'Closed.' : 'Open again.');
}

/** A held one: let through, or dropped. */
export async function heldAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', verb = '' } = typed(data);
  const result = await change(
    'edit-programs',
    (scope, session, ctx) =>
      (verb === 'release' ? releaseSubmission : dropSubmission)(ctx, scope, id, session.accountId),
    pressOf(data),
  );
  return stateOf(result, {}, verb === 'release' ? 'They are asked.' : 'Dropped.');
}
