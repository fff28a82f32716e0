import { clean } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import { Offer, Voucher } from '@/db/offers/entities';
import { settleEnds } from '@/db/offers/vouchers';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, overtaken, type Refusal } from '@/services/kit/validation';
import type { ChangeOfferInput, OfferInput } from './inputs';

export async function createOffer(
  ctx: Context,
  scope: Scope,
  input: OfferInput,
  { accountId, name }: Actor,
): Promise<Result<Offer, Refusal>> {
  const terms = await termsOf(scope, input, null);
  if (!terms.ok) return terms;
  const offer = scope.em.create(Offer, {
    ...{ id: ctx.id('off'), workspaceId: scope.workspaceId, made: 0, stamp: 0, archivedAt: null },
    ...terms.value,
    ...{ createdBy: accountId, createdAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(offer);
  await writeAudit(ctx, scope, name, 'offer.created', offer.id, { name: offer.name });
  return ok(offer);
}

/** Changes the terms: of vouchers to come, and, but for how often and how long they count, of those that were given. */
export async function changeOffer(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeOfferInput,
  { name: actor }: Actor,
): Promise<Result<Offer, Refusal>> {
  await scope.run(`select 1 from offer where workspace_id = :workspace and id = :id for update`, { id });
  const offer = await scope.em.findOne(Offer, { id }, { refresh: true });
  if (!offer) return notFound('offer');
  if (input.stamp !== offer.stamp) return overtaken();
  // Without a limit nobody counts; from the moment there is one, those that were given are in it.
  if (offer.most === null) offer.made = await scope.em.count(Voucher, { offerId: id });
  const terms = await termsOf(scope, input, offer);
  if (!terms.ok) return terms;
  const before = {
    name: offer.name,
    words: offer.words,
    days: offer.days,
    uses: offer.uses,
    most: offer.most,
  };
  Object.assign(offer, terms.value, { stamp: offer.stamp + 1 });
  if (input.archived !== undefined)
    offer.archivedAt = input.archived ? (offer.archivedAt ?? new Date(ctx.now())) : null;
  await scope.em.flush();
  await settleEnds(scope, id);
  await writeAudit(ctx, scope, actor, 'offer.changed', id, { before, after: terms.value });
  return ok(offer);
}

async function termsOf(scope: Scope, input: OfferInput, of: Offer | null) {
  const name = clean(input.name);
  const [other] = await scope.rows<{ id: string }>(
    `select id from offer where workspace_id = :workspace and lower(name) = lower(:name)`,
    { name },
  );
  if (other && other.id !== of?.id)
    return conflict('name', 'name: another offer has this name. Choose a different one.');
  const fromAt = input.from ? new Date(input.from) : null;
  const toAt = input.to ? new Date(input.to) : null;
  if (fromAt && toAt && toAt <= fromAt) return invalid('to', 'to: it must end after it begins.');
  const most = input.most ?? null;
  if (most !== null && of && most < of.made)
    return invalid('most', `most: ${of.made} were given already. Give at least that many.`);
  return ok({
    ...{ name, words: clean(input.words), place: clean(input.place ?? ''), fromAt, toAt, most },
    ...{ days: input.days ?? null, uses: input.uses ?? 1 },
  });
}
