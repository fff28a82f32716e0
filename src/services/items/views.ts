import { itemRefusal } from '@/core/item/item';
import { toIso } from '@/core/shared/instant';
import type { ItemRow } from '@/db/items/entities';
import { itemOf } from './fill-items';

export const itemView = (item: ItemRow, now: number) => ({
  ...{ id: item.id, number: item.number, kind: item.kind, name: item.name, place: item.place },
  ...{ price: item.price, link: item.url, picture: item.mediaId, state: item.state, all_day: item.allDay },
  starts_at: item.startsAt && toIso(item.startsAt.getTime()),
  ends_at: item.endsAt && toIso(item.endsAt.getTime()),
  /** Why it should not be written about now; null: it can be. */
  against: item.goneAt ? ('gone' as const) : itemRefusal(itemOf(item), now),
  updated_at: toIso(item.updatedAt.getTime()),
});
