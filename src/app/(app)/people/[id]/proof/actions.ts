'use server';
import { ProofInput } from '@/services/results/inputs';
import { checkProof, makeProof, type ProofCheck } from '@/services/results/proofs';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../../../press-of';
import { actorOf, change } from '../../../../session';
import { field, stateOf, typed } from '../../../form-result';

export async function makeProofAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(ProofInput, { address: values.address ?? '' });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) => makeProof(ctx, scope, input.value.address, actorOf(session)),
      pressOf(data),
    ),
    {},
    'Made. It stands below.',
  );
}

const CHECKED: Record<ProofCheck['is'], string> = {
  ours: 'It was made here, and not a letter was changed since.',
  changed: 'Something in it was changed: its hash is another.',
  unknown: 'Its hash is right, and it was not made in this workspace.',
};

export async function checkProofAction(_: FormState, data: FormData): Promise<FormState> {
  const document = field(data, 'document');
  const checked = await change('answer', (scope) => checkProof(scope, document));
  return stateOf(checked, { document }, checked.ok ? CHECKED[checked.value.is] : '');
}
