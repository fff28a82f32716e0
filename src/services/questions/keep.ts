import type { Answer } from '@/core/question/read-answer';
import { showOwnValue } from '@/core/people/values';
import type { Scope } from '@/db/kit/scope';
import { editPerson } from '@/services/people/edit-person';
import type { Context } from '@/services/kit/context';

/** An answer as fields of the person with their values. */
export function valuesOf(field: string, answer: Answer): [field: string, value: string][] {
  if (answer.is === 'own') return [[field, showOwnValue(answer.value)]];
  return answer.is === 'value' ? Object.entries(answer.values) : [];
}

/** Keeps what somebody told of themselves; who said it stands in the audit. False: a value was refused, and nothing is kept. */
export async function keepValues(
  ctx: Context,
  scope: Scope,
  personId: string,
  values: readonly (readonly [field: string, value: string])[],
  source: string,
): Promise<boolean> {
  const kept = await scope.attempt(async () => {
    for (const [field, value] of values) {
      const edited = await editPerson(ctx, scope, personId, field, value, source);
      if (!edited.ok) throw new NotKept(edited.reason.code);
    }
  });
  if (!kept.ok && !(kept.error instanceof NotKept)) throw kept.error;
  return kept.ok;
}

class NotKept extends Error {}
