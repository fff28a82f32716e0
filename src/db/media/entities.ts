import type { EntitySchema } from '@mikro-orm/core';
import { bytes, entity, instant, integer, key, maybe, text } from '@/db/kit/define';

/** A picture of the business, as it was made small and safe to show. */
export interface Picture {
  id: string;
  workspaceId: string;
  name: string;
  /** `image/webp` or `image/png`. */
  type: string;
  bytes: Buffer;
  width: number;
  height: number;
  madeBy: string | null;
  madeAt: Date;
}

export const Picture: EntitySchema<Picture> = entity<Picture>('Picture', 'picture', {
  id: key,
  workspaceId: text,
  name: text,
  type: text,
  bytes,
  width: integer,
  height: integer,
  madeBy: maybe(text),
  madeAt: instant,
});
