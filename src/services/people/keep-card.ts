import { clean } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import { parseEmail } from '@/core/people/address';
import { parseNumber } from '@/core/phone/number';
import { Workspace } from '@/db/access/entities';
import { whoHas } from '@/db/people/addresses';
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
  const { country } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const id = await whoseCard(scope, card, country);
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

/** Who is here with the card's number; of a card without one, who alone has its e-mail address. */
async function whoseCard(
  scope: Scope,
  { number, email }: CreatePersonInput,
  country: string,
): Promise<string | null> {
  const parsed = parseNumber(number ?? '', country);
  if (parsed.ok) return (await whoHas(scope, 'number', parsed.value))[0] ?? null;
  const mail = parseEmail(email ?? '');
  const theirs = mail.ok && !clean(number ?? '') ? await whoHas(scope, 'email', mail.value) : [];
  return theirs.length === 1 ? theirs[0]! : null;
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
