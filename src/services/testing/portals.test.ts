import { mkdtempSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import PostalMime from 'postal-mime';
import { SMTPServer } from 'smtp-server';
import { afterEach, expect, it, vi } from 'vitest';
import { readBody } from '@/core/inquiry/read-body';
import { signatureProblem } from '@/core/inquiry/signature';
import { BenchClock } from '@/standins/clock';
import { Portals, type Asking } from '@/standins/portals';

const ASKING: Asking = {
  ...{ name: 'Odalys Brightwater', number: '(303) 555-0141', email: 'odalys@example.org' },
  ...{ what: 'Class trip', words: 'We are 24. Is <Tuesday> free?' },
};
const SECRET = 'whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw';

interface Came {
  headers: Record<string, string>;
  body: Buffer;
  pieces: number;
}

const servers: { close(): unknown }[] = [];
afterEach(() => servers.splice(0).forEach((server) => server.close()));

/** A door that answers with each status in turn, the last one for ever. */
async function doorOf(statuses: number[]): Promise<{ to: string; came: Came[] }> {
  const came: Came[] = [];
  const server: Server = createServer((request: IncomingMessage, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      const headers = request.headers as Record<string, string>;
      came.push({ headers, body: Buffer.concat(chunks), pieces: chunks.length });
      response.writeHead(statuses[Math.min(came.length, statuses.length) - 1]!).end();
    });
  });
  servers.push(server);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return { to: `http://127.0.0.1:${(server.address() as { port: number }).port}/in/key`, came };
}

const portalsOf = (port = 9, file: string | null = null) =>
  new Portals(new BenchClock(null), { host: '127.0.0.1', port }, file);
const answersOf = (portals: Portals) => portals.view().brought[0]!.answers;
const came = (one: { came: Came[] }, count: number) =>
  vi.waitFor(() => expect(one.came).toHaveLength(count), 5_000);

it('a guide’s JSON is signed as the application checks it; kept for an hour it is old', async () => {
  const portals = portalsOf();
  const door = await doorOf([202]);
  portals.set('night-sky-guide', { to: door.to, secret: SECRET });
  portals.ask('night-sky-guide', ASKING);
  await came(door, 1);
  portals.set('night-sky-guide', { mood: 'replayed' });
  portals.ask('night-sky-guide', ASKING);
  await came(door, 2);
  const source = { signs: 'standard' as const, signHeader: null, secrets: [SECRET] };
  const problems = door.came.map((one) => signatureProblem(source, { ...one, at: Date.now() }));
  expect(problems).toEqual([null, 'old']);
  expect(JSON.parse(door.came[0]!.body.toString())).toMatchObject({
    lead: { topic: 'Class trip' },
    contact: { full_name: 'Odalys Brightwater' },
  });
});

it('the class’s form data is signed over its bytes, and read as fields', async () => {
  const portals = portalsOf();
  const door = await doorOf([202]);
  portals.set('out-with-the-class', { to: door.to, secret: 'bats' });
  portals.ask('out-with-the-class', ASKING);
  await came(door, 1);
  const source = { signs: 'header' as const, signHeader: 'X-Class-Signature', secrets: ['bats'] };
  expect(signatureProblem(source, { ...door.came[0]!, at: Date.now() })).toBeNull();
  expect(readBody('form', door.came[0]!.body.toString())).toMatchObject({
    value: { vorname: 'Odalys', last: 'Brightwater', tel: '(303) 555-0141' },
  });
});

it('is brought again when nobody could take it, and not when it was refused', async () => {
  const portals = portalsOf();
  const door = await doorOf([503, 202, 401]);
  portals.set('night-sky-guide', { to: door.to });
  portals.ask('night-sky-guide', ASKING);
  await vi.waitFor(() => expect(answersOf(portals)).toEqual(['503', '202']), 5_000);
  expect(door.came[0]!.body.equals(door.came[1]!.body)).toBe(true);
  portals.ask('night-sky-guide', ASKING);
  await vi.waitFor(() => expect(answersOf(portals)).toEqual(['401']), 5_000);
});

it('drips, repeats, changes its fields, and holds back what was asked while it was down', async () => {
  const portals = portalsOf();
  const door = await doorOf([202]);
  const ask = (mood: string) => {
    portals.set('night-sky-guide', { to: door.to, mood });
    portals.ask('night-sky-guide', ASKING);
  };
  ask('slow');
  await came(door, 1);
  expect(door.came[0]!.pieces).toBeGreaterThan(3);
  ask('twice');
  await came(door, 3);
  expect(door.came[1]!.body.equals(door.came[2]!.body)).toBe(true);
  ask('changed');
  await came(door, 4);
  expect(door.came[3]!.body.toString()).toContain('"who":"Odalys Brightwater"');
  ask('down');
  expect(answersOf(portals)).toEqual(['the portal is down']);
  portals.set('night-sky-guide', { mood: 'usual' });
  await vi.waitFor(() => expect(answersOf(portals)).toEqual(['the portal is down', '202']), 5_000);
});

it('writes letters with a table that cannot be broken by what a guest writes', async () => {
  const letters: string[] = [];
  const server = new SMTPServer({
    ...{ authOptional: true, disabledCommands: ['AUTH', 'STARTTLS'], logger: false },
    onData: (stream, _, callback) => {
      let raw = '';
      stream.on('data', (chunk: Buffer) => (raw += chunk.toString()));
      stream.on('end', () => callback(void letters.push(raw)));
    },
  });
  servers.push(server);
  const port = await new Promise<number>((resolve) => {
    const listening = server.listen(0, '127.0.0.1', () =>
      resolve((listening.address() as { port: number }).port),
    );
  });
  const portals = portalsOf(port);
  portals.set('evenings-out', { to: 'in-abc@reply.example' });
  portals.ask('evenings-out', ASKING);
  await vi.waitFor(() => expect(answersOf(portals)).toEqual(['taken']), 5_000);
  const { html } = await PostalMime.parse(letters[0]!);
  expect(html).toContain('<td>(303) 555-0141</td>');
  expect(html).not.toContain('<Tuesday>');
});

it('knows after a restart where they send to, and is as usual again', () => {
  const file = join(mkdtempSync(join(tmpdir(), 'wren-portals-')), 'portals.json');
  const to = 'http://127.0.0.1:4400/in/key';
  portalsOf(9, file).set('night-sky-guide', { to, secret: 'bats', mood: 'down' });
  expect(portalsOf(9, file).view().portals[0]).toMatchObject({ to, secret: 'bats', mood: 'usual' });
});

it('says what is missing instead of losing an inquiry', () => {
  const portals = portalsOf();
  expect(portals.ask('night-sky-guide', ASKING)).toMatch(/^Say first where/);
  expect(portals.ask('nobody', ASKING)).toBe('There is no such portal.');
  expect(portals.set('night-sky-guide', { to: 'in-abc@reply.example' })).toMatch(/^to: give the web/);
  expect(portals.set('evenings-out', { to: 'http://127.0.0.1' })).toMatch(/^to: give the mail/);
  expect(portals.set('night-sky-guide', { mood: 'gloomy' })).toMatch(/^mood: one of usual/);
});
