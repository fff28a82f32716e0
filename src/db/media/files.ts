import type { MediaKind } from '@/core/media/kinds';
import type { Crossing, Reading, Scope } from '@/db/kit/scope';

export interface PublicFile {
  id: string;
  workspace_id: string;
  name: string;
  alt: string;
  kind: MediaKind;
  type: string;
  size: number;
}

/** Files by ids that nobody can guess, for whoever has the address. In the order of `ids`. */
export const publicFiles = (crossing: Crossing, ids: readonly string[]): Promise<PublicFile[]> =>
  crossing.rows<PublicFile>(
    `select id, workspace_id, name, alt, kind, type, size from media_file where id = any(:ids::text[]) order by array_position(:ids::text[], id)`,
    { ids },
  );

/** Bytes of one piece as it is kept: a file is read piece by piece, so that a large one never lies in memory whole. */
const PIECE = 256 * 1024;

export async function putPieces(scope: Scope, key: string, bytes: Buffer): Promise<void> {
  for (let at = 0, piece = 0; at === 0 || at < bytes.length; at += PIECE, piece++)
    await scope.run(
      `insert into media_piece (workspace_id, key, piece, bytes) values (:workspace, :key, :piece, decode(:hex, 'hex'))`,
      { key, piece, hex: bytes.subarray(at, at + PIECE).toString('hex') },
    );
}

/** One piece; null: there is none after the last. */
export const pieceOf = async (crossing: Crossing, key: string, piece: number): Promise<Buffer | null> =>
  (
    await crossing.rows<{ bytes: Buffer }>(
      `select bytes from media_piece where key = :key and piece = :piece`,
      { key, piece },
    )
  )[0]?.bytes ?? null;

/** All bytes under a key; null: there are none. */
export async function piecesOf(scope: Scope, key: string): Promise<Buffer | null> {
  const rows = await scope.rows<{ bytes: Buffer }>(
    `select bytes from media_piece where workspace_id = :workspace and key = :key order by piece`,
    { key },
  );
  return rows.length === 0 ? null : Buffer.concat(rows.map(({ bytes }) => bytes));
}

/** Forgets the bytes of files. */
export const dropPieces = (scope: Scope, keys: readonly string[]): Promise<number> =>
  scope.run(`delete from media_piece where workspace_id = :workspace and key = any(:keys::text[])`, { keys });

/** Files that came with messages of people who are erased. */
const OF_ERASED_MESSAGES = `m.workspace_id = :workspace and m.arrived_as in (
  select carrier_id from inbound_text where workspace_id = :workspace and person_id = any(:ids::text[]) and carrier_id is not null)`;

export const MEDIA_ERASURES = [
  `insert into media_gone (id, workspace_id, at) select m.id, m.workspace_id, now() from media_file m where ${OF_ERASED_MESSAGES} on conflict do nothing`,
  `delete from media_file m where ${OF_ERASED_MESSAGES}`,
];

/** Files whose rows are gone and whose bytes are to follow. */
export const goneFiles = (
  reading: Reading,
  untroubled: string,
  at: Date,
  most: number,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(`select id, workspace_id from media_gone where ${untroubled} order by at, id limit :most`, {
    at,
    most,
  });

/** Its bytes are gone, or will be once this commits. False: another worker saw to it. */
export const noteGone = async (scope: Scope, id: string): Promise<boolean> =>
  (await scope.run(`delete from media_gone where workspace_id = :workspace and id = :id`, { id })) > 0;
