import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { LARGEST_FILE } from './imports';

/**
 * Takes an upload in on the disk first, and hands it on when it is there: a slow sender would hold one of the few connections to
 * the database for as long as it takes. What is larger than a file may be is cut one byte beyond, which tells. Nothing stays behind.
 */
export async function spooled<T>(
  bytes: AsyncIterable<Uint8Array>,
  take: (bytes: AsyncIterable<Uint8Array>) => Promise<T>,
  most = LARGEST_FILE,
): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), 'wren-upload-'));
  const path = join(folder, 'file');
  try {
    await pipeline(Readable.from(bytes), cutAt(most + 1), createWriteStream(path, { mode: 0o600 }));
    return await take(createReadStream(path));
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** So many bytes, and the rest unread. */
function cutAt(most: number): Transform {
  let left = most;
  return new Transform({
    transform(chunk: Buffer, _, done) {
      const some = chunk.subarray(0, left);
      left -= some.length;
      done(null, some);
    },
  });
}
