import type { IncomingMessage } from 'node:http';

/**
 * The body of a request, read no further than it may be large and no longer than it may take; without `patienceMs` as long as the server
 * lets it. Throws when the connection breaks off.
 */
export function readUpTo(
  request: IncomingMessage,
  largest: number,
  patienceMs?: number,
): Promise<Buffer | 'too-large' | 'too-slow'> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    let size = 0;
    const end = (outcome: Buffer | 'too-large' | 'too-slow') => {
      clearTimeout(timer);
      request.removeAllListeners('data');
      // What still comes is not kept; the connection is closed with the answer.
      if (typeof outcome === 'string') request.pause();
      resolve(outcome);
    };
    const timer = patienceMs === undefined ? undefined : setTimeout(() => end('too-slow'), patienceMs);
    if (Number(request.headers['content-length'] ?? 0) > largest) return end('too-large');
    request.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size > largest) return end('too-large');
      chunks.push(chunk);
    });
    request.once('end', () => end(Buffer.concat(chunks)));
    request.once('error', (error) => (clearTimeout(timer), reject(error)));
    request.once('close', () => (clearTimeout(timer), reject(new Error('The connection closed early'))));
  });
}
