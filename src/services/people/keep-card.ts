import { clean } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import { Person } from '@/db/people/entities';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { createPerson } from './create-person';
import { editPerson } from './edit-person';
import { findOrMakeLabel, setLabel } from './labels';
import type { CreatePersonInput } from './inputs';
import type { Refusal } from '@/services/kit/validation';

/** Keeps what a card says: somebody new is added, somebody here is updated, and the tags are put on both alike. */
export async function keepCard(
  ctx: Context,
  scope: Scope,
  card: CreatePersonInput,
  tags: readonly string[],
  actor: string,
): Promise<Result<{ id: string; added: boolean }, Refusal>> {
  const found = await scope.em.findOne(Person, { number: card.number, erasedAt: null });
  const id = found?.mergedInto ?? found?.id;
  if (id) {
    for (const field of ['first_name', 'last_name', 'email'] as const) {
      if (!clean(card[field] ?? '')) continue;
      const edited = await editPerson(ctx, scope, id, field, card[field]!, actor);
      if (!edited.ok) return edited;
    }
    return tagged(ctx, scope, id, tags, actor, false);
  }
  const made = await createPerson(ctx, scope, card, actor);
  return made.ok ? tagged(ctx, scope, made.value.id, tags, actor, true) : made;
}

async function tagged(
  ctx: Context,
  scope: Scope,
  id: string,
  tags: readonly string[],
  actor: string,
  added: boolean,
): Promise<Result<{ id: string; added: boolean }, Refusal>> {
  for (const name of tags) {
    const label = await findOrMakeLabel(ctx, scope, 'tag', name, actor);
    if (!label.ok) return label;
    await setLabel(ctx, scope, label.value.id, [id], true);
  }
  return ok({ id, added });
}
