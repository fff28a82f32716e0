import type { EntitySchema } from '@mikro-orm/core';
import type { MediaKind } from '@/core/media/kinds';
import { bytes, entity, instant, integer, key, keyOf, maybe, text } from '@/db/kit/define';

/** A file of the business, or one that somebody sent; a picture as it was made small and safe to show. */
export interface MediaFile {
  id: string;
  workspaceId: string;
  name: string;
  kind: MediaKind;
  /** What a picture shows, for who cannot see it; empty: nobody said. */
  alt: string;
  type: string;
  /** Bytes. */
  size: number;
  /** What picture messages carry of it, where that is smaller; null: the file itself. */
  smallType: string | null;
  smallSize: number | null;
  /** Of a picture. */
  width: number | null;
  height: number | null;
  /** The carrier's id of the message it came in; null: the business keeps it. */
  arrivedAs: string | null;
  /** Offered no more from then on; what was sent still shows it. */
  hiddenAt: Date | null;
  madeBy: string | null;
  madeAt: Date;
}

export const MediaFile: EntitySchema<MediaFile> = entity<MediaFile>('MediaFile', 'media_file', {
  id: key,
  workspaceId: text,
  name: text,
  kind: text,
  alt: text,
  type: text,
  size: integer,
  smallType: maybe(text),
  smallSize: maybe(integer),
  width: maybe(integer),
  height: maybe(integer),
  arrivedAs: maybe(text),
  hiddenAt: maybe(instant),
  madeBy: maybe(text),
  madeAt: instant,
});

/** A file whose row is gone and whose bytes are to go, wherever they lie. */
export interface MediaGone {
  id: string;
  workspaceId: string;
  at: Date;
}

export const MediaGone: EntitySchema<MediaGone> = entity<MediaGone>('MediaGone', 'media_gone', {
  id: key,
  workspaceId: text,
  at: instant,
});

/** A piece of a file's bytes, where the database keeps them. */
export interface MediaPiece {
  workspaceId: string;
  key: string;
  piece: number;
  bytes: Buffer;
}

export const MediaPiece: EntitySchema<MediaPiece> = entity<MediaPiece>('MediaPiece', 'media_piece', {
  workspaceId: text,
  key,
  piece: keyOf(integer),
  bytes,
});
