import type { EntitySchema } from '@mikro-orm/core';
import type { PosterDocument } from '@/core/poster/document';
import { entity, instant, integer, json, key, maybe, text } from '@/db/kit/define';

/** A poster of a keyword or of a form: one of the two. */
export interface Poster {
  id: string;
  workspaceId: string;
  keywordId: string | null;
  formId: string | null;
  document: PosterDocument;
  stamp: number;
  createdBy: string | null;
  createdAt: Date;
}

export const Poster: EntitySchema<Poster> = entity<Poster>('Poster', 'poster', {
  id: key,
  workspaceId: text,
  keywordId: maybe(text),
  formId: maybe(text),
  document: json,
  stamp: integer,
  createdBy: maybe(text),
  createdAt: instant,
});
