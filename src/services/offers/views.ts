import type { Offer } from '@/db/offers/entities';
import { iso } from '@/services/kit/views';

export const offerView = (offer: Offer) => ({
  ...{ id: offer.id, name: offer.name, words: offer.words, place: offer.place },
  ...{ days: offer.days, uses: offer.uses, most: offer.most },
  ...{ from: iso(offer.fromAt), to: iso(offer.toAt), archived_at: iso(offer.archivedAt) },
  ...{ stamp: offer.stamp, created_at: iso(offer.createdAt) },
});
