import { HOUR, type Millis } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { Offer } from '@/db/offers/entities';
import { offerByKeyword, offerResults, usesByDay, wrongCodes, type OfferRow } from '@/db/offers/vouchers';
import { KeywordRow } from '@/db/programs/entities';

const NONE: Omit<OfferRow, 'id'> = {
  ...{ made: 0, received: 0, opened: 0, redeemed: 0, uses: 0, expired: 0, median_hours: null },
};

/** Offers with what came of them, and what was typed at tills that is none of them. */
export async function readOffers(scope: Scope, now: Millis) {
  const offers = await scope.em.find(Offer, {}, { orderBy: { archivedAt: 'asc', createdAt: 'desc' } });
  const results = new Map((await offerResults(scope, new Date(now))).map((row) => [row.id, row]));
  return {
    offers: offers.map((offer) => ({ offer, result: results.get(offer.id) ?? { id: offer.id, ...NONE } })),
    wrong: await wrongCodes(scope, new Date(now - 24 * HOUR)),
  };
}

export async function readOfferResult(scope: Scope, id: string, now: Millis) {
  const offer = await scope.em.findOne(Offer, { id });
  if (!offer) return null;
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const row = (await offerResults(scope, new Date(now))).find((one) => one.id === id);
  const { id: _, ...counts } = row ?? { id, ...NONE };
  return {
    ...counts,
    by_keyword: await offerByKeyword(scope, id),
    by_day: await usesByDay(scope, id, zone),
  };
}

export async function readOfferScreen(scope: Scope, id: string, now: Millis) {
  const offer = await scope.em.findOne(Offer, { id });
  const result = await readOfferResult(scope, id, now);
  if (!offer || !result) return null;
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const keywords = await scope.em.find(KeywordRow, { offerId: id }, { orderBy: { word: 'asc' } });
  return { offer, result, zone, keywords: keywords.map(({ id: key, word }) => ({ id: key, word })) };
}
