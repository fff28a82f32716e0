import type { EntitySchema } from '@mikro-orm/core';
import type { ItemKind, ItemState } from '@/core/item/item';
import { boolean, entity, instant, key, maybe, text } from '@/db/kit/define';

/** Something to write about. */
export interface ItemRow {
  id: string;
  workspaceId: string;
  number: string;
  /** Its number as merge fields know it. */
  key: string;
  kind: ItemKind;
  name: string;
  place: string;
  price: string;
  url: string;
  /** Its picture; null: it has none. */
  mediaId: string | null;
  startsAt: Date | null;
  endsAt: Date | null;
  allDay: boolean;
  state: ItemState;
  /** What its calendar knows it by; null: it came from none. */
  uid: string | null;
  /** It is offered no more; what names it still does. */
  goneAt: Date | null;
  createdAt: Date;
  updatedAt: Date;
}

export const ItemRow: EntitySchema<ItemRow> = entity<ItemRow>('Item', 'item', {
  id: key,
  workspaceId: text,
  number: text,
  key: text,
  kind: text,
  name: text,
  place: text,
  price: text,
  url: text,
  mediaId: maybe(text),
  startsAt: maybe(instant),
  endsAt: maybe(instant),
  allDay: boolean,
  state: text,
  uid: maybe(text),
  goneAt: maybe(instant),
  createdAt: instant,
  updatedAt: instant,
});

/** A send, or a line of a sequence, that names an item. */
export interface WrittenAbout {
  workspaceId: string;
  sendId: string;
  /** Empty: all of the send. */
  stepId: string;
  itemId: string;
}

export const WrittenAbout: EntitySchema<WrittenAbout> = entity<WrittenAbout>(
  'WrittenAbout',
  'written_about',
  {
    workspaceId: text,
    sendId: key,
    stepId: key,
    itemId: key,
  },
);
