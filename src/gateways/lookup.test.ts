import { createServer, type Server } from 'node:http';
import { afterEach, describe, expect, it } from 'vitest';
import { httpLookup, noLookup } from './lookup';

let server: Server | undefined;
afterEach(() => void server?.close());

interface Question {
  url: string;
  numbers: string[];
}

/** A service that answers as told, and what it was asked. */
async function service(answer: (question: Question) => { status?: number; body: string }) {
  const asked: Question[] = [];
  server = createServer((request, response) => {
    let text = '';
    request.on('data', (chunk: Buffer) => (text += chunk.toString()));
    request.on('end', () => {
      const question = { url: request.url!, ...(JSON.parse(text) as { numbers: string[] }) };
      asked.push(question);
      const { status = 200, body } = answer(question);
      response.writeHead(status, { 'content-type': 'application/json' }).end(body);
    });
  });
  await new Promise<void>((resolve) => server!.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as { port: number };
  return { lookup: httpLookup(`http://127.0.0.1:${port}`), asked };
}

const mobiles = ({ numbers }: Question) => ({
  body: JSON.stringify({ numbers: numbers.map((number) => ({ number, line_type: 'mobile' })) }),
});

const some = (n: number) => Array.from({ length: n }, (_, i) => `+1303555${String(i).padStart(4, '0')}`);

describe('a look-up', () => {
  it('asks in portions and puts the answers together', async () => {
    const { lookup, asked } = await service(mobiles);
    const found = await lookup.lookUp(some(2_300));
    expect(asked.map(({ url, numbers }) => [url, numbers.length])).toEqual([
      ['/lookup', 1_000],
      ['/lookup', 1_000],
      ['/lookup', 300],
    ]);
    expect(found.size).toBe(2_300);
    expect(found.get('+13035552299')).toBe('mobile');
  });

  it('leaves out kinds it does not know', async () => {
    const { lookup } = await service(() => ({
      body: JSON.stringify({
        numbers: [
          { number: '+13035550001', line_type: 'landline' },
          { number: '+13035550002', line_type: 'pager' },
          { number: '+13035550003', line_type: 'voip' },
        ],
      }),
    }));
    expect([...(await lookup.lookUp(some(4)))]).toEqual([
      ['+13035550001', 'landline'],
      ['+13035550003', 'voip'],
    ]);
  });

  it.each([
    ['an error', { status: 503, body: '{}' }],
    ['a page', { body: '<html>busy</html>' }],
    ['nothing', { body: '' }],
    ['another shape', { body: '{"numbers":"none"}' }],
    ['null', { body: 'null' }],
  ])('that is answered with %s knows nothing, and nobody waits for it', async (_, answer) => {
    const { lookup } = await service(() => answer);
    expect((await lookup.lookUp(some(2))).size).toBe(0);
  });

  it('keeps what it knows when the service goes away in the middle', async () => {
    let times = 0;
    const { lookup } = await service((question) =>
      ++times === 1 ? mobiles(question) : { status: 500, body: 'gone' },
    );
    expect((await lookup.lookUp(some(1_500))).size).toBe(1_000);
  });

  it('of nobody asks nobody, and without a service nothing is known', async () => {
    const { lookup, asked } = await service(mobiles);
    expect((await lookup.lookUp([])).size).toBe(0);
    expect(asked).toHaveLength(0);
    expect((await noLookup.lookUp(some(1))).size).toBe(0);
    expect((await httpLookup('http://127.0.0.1:9').lookUp(some(1))).size).toBe(0);
  });
});
