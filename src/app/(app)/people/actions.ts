'use server';
import { pressOf } from '../../press-of';
import { redirect } from 'next/navigation';
import { createPerson } from '@/services/people/create-person';
import { CreatePersonInput } from '@/services/people/inputs';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { change, requireSession } from '../../session';
import { filled, stateOf, typed } from '../form-result';

export async function addPersonAction(_: FormState, data: FormData): Promise<FormState> {
  await requireSession();
  const values = typed(data);
  const { program, channel, wording, source, ...person } = filled(values);
  const consent = program
    ? {
        consent: {
          ...{ program, wording: wording ?? '' },
          ...(channel ? { channel } : {}),
          ...(source ? { source } : {}),
        },
      }
    : {};
  const input = await readInput(CreatePersonInput, { ...person, ...consent });
  if (!input.ok)
    return stateOf(
      { ok: false, reason: { ...input.reason, problems: input.reason.problems.map(onForm) } },
      values,
      '',
    );
  const result = await change(
    'edit-people',
    (scope, session, ctx) => createPerson(ctx, scope, input.value, session.accountId),
    pressOf(data),
  );
  if (!result.ok)
    return stateOf(
      { ok: false, reason: { ...result.reason, problems: result.reason.problems.map(onForm) } },
      values,
      '',
    );
  redirect(`/people/${result.value.id}`);
}

/** The form shows consent's fields on one level. */
const onForm = ({ field, message }: { field: string; message: string }) => ({
  field: field.replace('consent.', ''),
  message: message.replace('consent.', ''),
});
