import { Readable } from 'node:stream';
import { dropPieces, pieceOf, piecesOf, putPieces } from '@/db/media/files';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { objectStore } from '@/gateways/media/s3';
import type { MediaStore } from '@/gateways/media/store';
import type { Context } from '@/services/kit/context';
import { objectStoreSettings } from '@/services/kit/settings';

/** What picture messages carry of a file lies beside it. */
export const smallKey = (id: string): string => `${id}.small`;

let outside: MediaStore | null = null;

/** The object store that is set; null: the database keeps files. */
function outsideStore(): MediaStore | null {
  const settings = objectStoreSettings();
  return settings && (outside ??= objectStore(settings));
}

/** Keeps bytes in the transaction of their row; where a store outside has them, before it commits: what is left of one that did not is no harm. */
export const putBytes = (scope: Scope, key: string, bytes: Buffer, type: string): Promise<void> =>
  outsideStore()?.put(key, bytes, type) ?? putPieces(scope, key, bytes);

export async function removeBytes(scope: Scope, ids: readonly string[]): Promise<void> {
  const keys = ids.flatMap((id) => [id, smallKey(id)]);
  await (outsideStore()?.remove(keys) ?? dropPieces(scope, keys));
}

/** The bytes as they come; null: there are none. */
export async function openBytes(ctx: Context, key: string): Promise<Readable | null> {
  const store = outsideStore();
  if (store) return store.open(key);
  const piece = (nth: number) => acrossWorkspaces(ctx.orm, (crossing) => pieceOf(crossing, key, nth));
  const first = await piece(0);
  if (!first) return null;
  return Readable.from(
    (async function* () {
      yield first;
      for (let nth = 1; ; nth++) {
        const next = await piece(nth);
        if (!next) return;
        yield next;
      }
    })(),
  );
}

/** All bytes of a file at once; null: there are none. */
export async function bytesIn(scope: Scope, key: string): Promise<Buffer | null> {
  const store = outsideStore();
  if (!store) return piecesOf(scope, key);
  const stream = await store.open(key);
  return stream && Buffer.concat(await stream.toArray());
}
