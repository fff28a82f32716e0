import { entity, instant, integer, key, maybe, text } from '../kit/define';
import type { EntitySchema } from '@mikro-orm/core';

/** A text that is kept to be written again. */
export interface Template {
  id: string;
  workspaceId: string;
  /** Whose it is; null: everybody's. */
  ownerId: string | null;
  /** Empty: it lies in none. */
  folder: string;
  name: string;
  /** Of a letter. */
  subject: string | null;
  /** Unicode MessageFormat 2. */
  body: string;
  /** Of one that answers people: the question it answers, in words; null: it answers none in particular. */
  question: string | null;
  version: number;
  createdAt: Date;
  updatedAt: Date;
}

export const Template: EntitySchema<Template> = entity<Template>('Template', 'template', {
  id: key,
  workspaceId: text,
  ownerId: maybe(text),
  folder: text,
  name: text,
  subject: maybe(text),
  body: text,
  question: maybe(text),
  version: integer,
  createdAt: instant,
  updatedAt: instant,
});

/** A template as it was. */
export interface TemplateVersion {
  workspaceId: string;
  templateId: string;
  version: number;
  subject: string | null;
  body: string;
  changedBy: string | null;
  at: Date;
}

export const TemplateVersion: EntitySchema<TemplateVersion> = entity<TemplateVersion>(
  'TemplateVersion',
  'template_version',
  {
    workspaceId: text,
    templateId: key,
    version: { type: 'integer', primary: true },
    subject: maybe(text),
    body: text,
    changedBy: maybe(text),
    at: instant,
  },
);
