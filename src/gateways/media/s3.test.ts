import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { objectStore } from './s3';
import type { MediaStore } from './store';

/** A store that speaks the protocol and takes what is signed; it keeps everything in memory. */
const kept = new Map<string, { type: string; bytes: Buffer }>();
const asked: string[] = [];
const server = createServer((request, response) => {
  const chunks: Buffer[] = [];
  request.on('data', (chunk: Buffer) => chunks.push(chunk));
  request.on('end', () => {
    const { pathname, search } = new URL(request.url!, 'http://s3');
    const key = decodeURIComponent(pathname.replace(/^\/files\//, ''));
    asked.push(`${request.method} ${pathname}${search}`);
    if (!request.headers.authorization?.includes('Credential=me/')) return response.writeHead(403).end();
    if (request.method === 'PUT') {
      kept.set(key, { type: request.headers['content-type']!, bytes: Buffer.concat(chunks) });
      return response.end();
    }
    if (request.method === 'POST' && search.startsWith('?delete')) {
      for (const [, gone] of Buffer.concat(chunks)
        .toString()
        .matchAll(/<Key>([^<]+)<\/Key>/g))
        if (!gone!.startsWith('locked')) kept.delete(gone!);
      const locked = [...kept.keys()].filter((name) => name.startsWith('locked'));
      return response.end(
        `<DeleteResult>${locked.map((name) => `<Error><Key>${name}</Key><Code>AccessDenied</Code></Error>`).join('')}</DeleteResult>`,
      );
    }
    const found = kept.get(key);
    return found
      ? response.writeHead(200, { 'content-type': found.type }).end(found.bytes)
      : response
          .writeHead(404, { 'content-type': 'application/xml' })
          .end('<Error><Code>NoSuchKey</Code></Error>');
  });
});
let store: MediaStore;

beforeAll(async () => {
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  store = objectStore({
    endpoint: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    ...{ region: 'here', bucket: 'files', accessKeyId: 'me', secretAccessKey: 'secret' },
  });
});
afterAll(() => server.close());

describe('an object store', () => {
  it('keeps, gives and forgets bytes, addressed by path and signed', async () => {
    const bytes = Buffer.from([0, 255, 13, 10, 0]);
    await store.put('pic_1.small', bytes, 'image/jpeg');
    expect(Buffer.concat(await (await store.open('pic_1.small'))!.toArray()).equals(bytes)).toBe(true);
    expect(kept.get('pic_1.small')!.type).toBe('image/jpeg');
    expect(asked[0]).toMatch(/^PUT \/files\/pic_1\.small/);
    expect(await store.open('pic_2')).toBeNull();
    await store.remove(['pic_1.small', 'pic_2']);
    await store.remove([]);
    expect(await store.open('pic_1.small')).toBeNull();
  });

  it('says which it could not forget', async () => {
    await store.put('locked_1', Buffer.from('x'), 'text/plain');
    await expect(store.remove(['locked_1'])).rejects.toThrow('keeps locked_1: AccessDenied');
  });
});
