import type { EntitySchema } from '@mikro-orm/core';
import { big, boolean, bytes, entity, instant, integer, json, key, keyOf, maybe, text } from '../kit/define';

/** A file of people on its way in. */
export interface Import {
  id: string;
  workspaceId: string;
  name: string;
  fileName: string;
  format: string;
  bytes: number;
  digest: string;
  state: string;
  shape: unknown;
  mapping: unknown;
  options: unknown;
  problem: string | null;
  cursor: number;
  rows: number;
  counts: unknown;
  createdBy: string | null;
  createdAt: Date;
  updatedAt: Date;
  finishedAt: Date | null;
}

export const Import: EntitySchema<Import> = entity<Import>('Import', 'import', {
  id: key,
  workspaceId: text,
  name: text,
  fileName: text,
  format: text,
  bytes: big,
  digest: text,
  state: text,
  shape: json,
  mapping: json,
  options: json,
  problem: maybe(text),
  cursor: integer,
  rows: integer,
  counts: json,
  createdBy: maybe(text),
  createdAt: instant,
  updatedAt: instant,
  finishedAt: maybe(instant),
});

/** A piece of a stored file. */
export interface ImportChunk {
  workspaceId: string;
  importId: string;
  index: number;
  bytes: Uint8Array;
}

export const ImportChunk: EntitySchema<ImportChunk> = entity<ImportChunk>('ImportChunk', 'import_chunk', {
  workspaceId: text,
  importId: key,
  index: keyOf(integer),
  bytes: bytes,
});

/** A row of an import, as it was decided. */
export interface ImportRow {
  workspaceId: string;
  importId: string;
  line: number;
  verdict: string;
  number: string | null;
  /** The e-mail address, of a row without a number. */
  email: string | null;
  /** The chat id, of a row without either. */
  chat: string | null;
  personId: string | null;
  lineType: string | null;
  reason: string | null;
  told: string | null;
  data: unknown;
  changes: unknown;
  undone: string | null;
  /** Of a number whose owner goes by another name: the row is about them, or it is not; null: nobody said. */
  choice: 'take' | 'leave' | null;
  /** The row says that they left, or want no texts. */
  saysLeft: boolean;
}

export const ImportRow: EntitySchema<ImportRow> = entity<ImportRow>('ImportRow', 'import_row', {
  workspaceId: text,
  importId: key,
  line: keyOf(integer),
  verdict: text,
  number: maybe(text),
  email: maybe(text),
  chat: maybe(text),
  personId: maybe(text),
  lineType: maybe(text),
  reason: maybe(text),
  told: maybe(text),
  data: maybe(json),
  changes: maybe(json),
  undone: maybe(text),
  choice: maybe(text),
  saysLeft: boolean,
});
