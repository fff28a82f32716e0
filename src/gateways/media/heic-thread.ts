import { parentPort, workerData } from 'node:worker_threads';
import decode from 'heic-decode';

/** What the thread is given: a picture, and how many points it may have. */
export interface HeicWork {
  bytes: Uint8Array;
  mostPixels: number;
}

/** What it says: points of four bytes each (red, green, blue, opacity), or that it can make nothing of it. */
export type HeicSaid = { width: number; height: number; data: Uint8ClampedArray } | null;

async function read({ bytes, mostPixels }: HeicWork): Promise<HeicSaid> {
  const pictures = await decode.all({ buffer: bytes });
  const [first] = pictures;
  // Its size is told before it is unpacked: what would fill the memory is not.
  if (!first || first.width * first.height > mostPixels) return null;
  return first.decode();
}

read(workerData as HeicWork).then(
  (said) => parentPort!.postMessage(said),
  () => parentPort!.postMessage(null),
);
