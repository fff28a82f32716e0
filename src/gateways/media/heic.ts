import { beside, startThread } from '../thread';
import type { HeicSaid, HeicWork } from './heic-thread';

const MEMORY_MB = 768;
const PATIENCE_MS = 30_000;

/** A picture as phones take it (HEIC), unpacked in a thread of its own with a limit; null: it cannot be, or is too large. */
export function readHeic(work: HeicWork): Promise<HeicSaid> {
  const thread = startThread('heic-thread', beside(import.meta.url, 'heic-thread.ts'), {
    workerData: work,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  });
  return new Promise<HeicSaid>((resolve) => {
    const late = setTimeout(() => resolve(null), PATIENCE_MS);
    thread.once('message', (said: HeicSaid) => (clearTimeout(late), resolve(said)));
    thread.once('error', () => (clearTimeout(late), resolve(null)));
    thread.once('exit', () => (clearTimeout(late), resolve(null)));
  }).finally(() => void thread.terminate());
}
