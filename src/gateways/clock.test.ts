import { spawn } from 'node:child_process';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { followBenchClock } from './clock';

const MINUTE = 60_000;
let server: Server | null = null;
afterEach(() => void server?.close());

/** A bench that tells its clock once, and holds the line. */
const bench = (port = 0): Promise<string> =>
  new Promise((resolve) => {
    server = createServer((_, response) => {
      response.writeHead(200, { 'content-type': 'text/event-stream' });
      response.write(`event: clock\ndata: {"offset_ms":${MINUTE}}\n\n`);
    }).listen(port, '127.0.0.1', () =>
      resolve(`http://127.0.0.1:${(server!.address() as AddressInfo).port}`),
    );
  });

describe('the clock of the bench', () => {
  it('is the time of the bench from the first reading on', async () => {
    const clock = await followBenchClock(await bench());
    expect(Math.abs(clock.now() - Date.now() - MINUTE)).toBeLessThan(MINUTE / 2);
    clock.stop();
    server?.closeAllConnections();
  });

  it('is waited for where the bench comes later, by a process that has nothing else to do', async () => {
    const port = await freePort();
    const waiting = spawn(
      process.execPath,
      [
        ...['--import', 'tsx', '--input-type=module', '-e'],
        `const { followBenchClock } = await import('${new URL('./clock.ts', import.meta.url).href}');
         void followBenchClock('http://127.0.0.1:${port}', () => console.log('waiting'))
           .then((clock) => (console.log('known'), clock.stop(), process.exit(7)));`,
      ],
      { stdio: ['ignore', 'pipe', 'inherit'] },
    );
    const ended = new Promise((resolve) => waiting.once('close', resolve));
    let said = '';
    waiting.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
    while (!said.includes('waiting')) await new Promise((resolve) => setTimeout(resolve, 20));
    await bench(port);
    expect(await ended).toBe(7);
    expect(said.split('\n')).toEqual(['waiting', 'known', '']);
    server?.closeAllConnections();
  });
});

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });
