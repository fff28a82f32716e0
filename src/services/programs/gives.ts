import type { EntitySchema, FilterQuery, RequiredEntityData } from '@mikro-orm/core';
import { ok, type Result } from '@/core/shared/result';
import { parseTemplate } from '@/core/text/template';
import type { Scope } from '@/db/kit/scope';
import { Offer } from '@/db/offers/entities';
import { Label } from '@/db/people/entities';
import { Sequence } from '@/db/sequences/entities';
import { invalid, type Refusal } from '@/services/kit/validation';

/** What joining gives, whether by a keyword or by a form. */
interface Gives {
  welcome: string | null;
  offerId: string | null;
}

/** First words and offer, as far as they are given. */
export async function changeGives(
  scope: Scope,
  row: Gives,
  { welcome, offer }: { welcome?: string; offer?: string | null },
): Promise<Result<null, Refusal>> {
  if (welcome !== undefined) {
    const template = welcome.trim() === '' ? null : parseTemplate(welcome.trim());
    if (template && !template.ok) return invalid('welcome', `welcome: ${template.reason[0]!.message}`);
    row.welcome = welcome.trim() || null;
  }
  if (offer !== undefined) {
    if (offer !== null && !(await scope.em.findOne(Offer, { id: offer, archivedAt: null })))
      return invalid('offer', 'offer: there is no such offer here. Give its id.');
    row.offerId = offer;
  }
  return ok(null);
}

type Link = object & { workspaceId: string };

/** All tags and lists it gives, anew; undefined: they stay. `owner`: the column of the keyword or form, with its id. */
export async function replaceLabels<L extends Link & { labelId: string }>(
  scope: Scope,
  links: EntitySchema<L>,
  owner: Partial<L>,
  ids: readonly string[] | undefined,
): Promise<Result<null, Refusal>> {
  if (!ids) return ok(null);
  if ((await scope.em.count(Label, { id: [...ids] })) < ids.length)
    return invalid('labels', 'labels: one of these tags and lists is not here any more.');
  return replaceLinks(scope, links, owner, 'labelId', ids);
}

/** All sequences it starts, anew. */
export async function replaceSequences<L extends Link & { sequenceId: string }>(
  scope: Scope,
  links: EntitySchema<L>,
  owner: Partial<L>,
  ids: readonly string[] | undefined,
): Promise<Result<null, Refusal>> {
  if (!ids) return ok(null);
  if ((await scope.em.count(Sequence, { id: [...ids] })) < ids.length)
    return invalid('sequences', 'sequences: one of these sequences is not here any more.');
  return replaceLinks(scope, links, owner, 'sequenceId', ids);
}

export async function replaceLinks<L extends Link>(
  scope: Scope,
  links: EntitySchema<L>,
  owner: Partial<L>,
  column: keyof L & string,
  ids: readonly string[],
): Promise<Result<null, Refusal>> {
  await scope.em.nativeDelete(links, owner as FilterQuery<L>);
  await scope.em.insertMany<L>(
    links,
    ids.map((id) => ({ workspaceId: scope.workspaceId, ...owner, [column]: id }) as RequiredEntityData<L>),
  );
  return ok(null);
}
