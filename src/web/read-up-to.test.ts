import { createServer, request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { readUpTo } from './read-up-to';

let server: Server;
afterEach(() => void server.close());

/** Answers with what was read: a length, or why not. */
async function door(largest: number, patienceMs?: number): Promise<string> {
  server = createServer((asked, answer) => {
    readUpTo(asked, largest, patienceMs).then(
      (body) =>
        answer.writeHead(200, { connection: 'close' }).end(body instanceof Buffer ? `${body.length}` : body),
      () => {},
    );
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}
const post = async (to: string, body: string) => (await fetch(to, { method: 'POST', body })).text();

describe('a body', () => {
  it('is read whole up to its limit, and no further', async () => {
    const to = await door(1_000);
    expect([await post(to, ''), await post(to, 'x'.repeat(1_000))]).toEqual(['0', '1000']);
    expect(await post(to, 'x'.repeat(1_001))).toBe('too-large');
  });

  it('that says nothing of its length is cut off where it is too large', async () => {
    const to = await door(1_000);
    const sent = await new Promise<string>((resolve, reject) => {
      const asked = request(to, { method: 'POST' }, (answer) => {
        answer.setEncoding('utf8').on('data', resolve);
      });
      asked.on('error', reject);
      asked.write('x'.repeat(800));
      asked.write('x'.repeat(800));
    });
    expect(sent).toBe('too-large');
  });

  it('that does not end is given up, where there is a limit to waiting', async () => {
    const to = await door(1_000, 20);
    const sent = await new Promise<string>((resolve, reject) => {
      const asked = request(to, { method: 'POST' }, (answer) => {
        answer.setEncoding('utf8').on('data', resolve);
      });
      asked.on('error', reject);
      asked.write('x');
    });
    expect(sent).toBe('too-slow');
  });
});
