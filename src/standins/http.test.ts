import { Mailboxes } from './mailboxes';
import { connect } from 'node:net';
import { beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { BenchClock } from './clock';
import { NO_FAULTS } from './faults';
import { Handsets } from './handsets';
import { serveBench } from './http';
import { PAGE } from './page';
import { NO_HABITS } from './smpp/habits';

const ANA = '+13035550142';
const PROGRAM = '+17195550110';
/** A number that the second carrier carries. */
const OTHERS = '+17195550120';

/** What the API asks of the carrier; the carrier itself is tested over its own protocol. */
function fakeCarrier() {
  const inbound: string[][] = [];
  let drops = 0;
  return {
    faults: { ...NO_FAULTS },
    habits: { ...NO_HABITS },
    carries: (number: string) => number === OTHERS,
    links: 1,
    counts: { submitted: 3, refused: 0, receipts: 2, inbound: 1 },
    inbound: (...text: string[]) => `in${inbound.push(text)}`,
    dropLinks: () => drops++,
    sent: inbound,
    dropped: () => drops,
  };
}

const world = {
  clock: new BenchClock(null),
  handsets: new Handsets(),
  carrier: fakeCarrier(),
  second: fakeCarrier(),
  mailboxes: new Mailboxes(new BenchClock(null), { host: '127.0.0.1', port: 9 }),
  relay: { counts: { taken: 0 }, file: () => undefined, inbound: () => Promise.resolve(true) },
};
let port = 0;
beforeAll(async () => {
  port = await serveBench(world as unknown as Parameters<typeof serveBench>[0], 0);
});
beforeEach(() => {
  Object.assign(world, { handsets: new Handsets(), carrier: fakeCarrier(), second: fakeCarrier() });
});

interface Answer {
  status: number;
  body: Record<string, unknown> & { detail?: string };
}

async function ask(method: string, path: string, input?: unknown): Promise<Answer> {
  const body = input === undefined ? {} : { body: typeof input === 'string' ? input : JSON.stringify(input) };
  const response = await fetch(`http://127.0.0.1:${port}${path}`, { method, ...body });
  return { status: response.status, body: (await response.json()) as Answer['body'] };
}

/** A request as it stands, where a well-behaved client would send another. */
const raw = (head: string): Promise<string> =>
  new Promise((resolve, reject) => {
    const socket = connect(port, '127.0.0.1');
    let said = '';
    socket.on('data', (chunk) => (said += chunk));
    socket.on('close', () => resolve(said));
    socket.on('error', reject);
    socket.write(`${head}\r\nConnection: close\r\n\r\n`);
  });

describe('the bench’s handsets', () => {
  it('are made with a number in any dress, and keep how they behave', async () => {
    const made = await ask('POST', '/handsets', { number: '(303) 555-0142', behaviour: 'off' });
    expect(made).toEqual({ status: 201, body: { number: ANA, behaviour: 'off', texts: 0 } });
    const { body } = await ask('GET', '/handsets');
    expect(body).toMatchObject({ handsets: [{ number: ANA, behaviour: 'off' }] });
  });

  it('text a number or a short code through the carrier', async () => {
    expect(await ask('POST', `/handsets/${ANA}/texts`, { to: PROGRAM, body: 'sky' })).toEqual({
      status: 202,
      body: { id: 'in1' },
    });
    await ask('POST', `/handsets/${encodeURIComponent(ANA)}/texts`, { to: '24000', body: '' });
    expect(world.carrier.sent).toEqual([
      [ANA, PROGRAM, 'sky'],
      [ANA, '24000', ''],
    ]);
  });

  it('show what they got, not what they sent', async () => {
    await ask('POST', `/handsets/${ANA}/texts`, { to: PROGRAM, body: 'sky' });
    world.handsets.receive({
      from: PROGRAM,
      to: ANA,
      body: 'Welcome',
      at: '2026-11-24T12:00:00Z',
      concat: null,
    });
    const { body } = await ask('GET', `/handsets/${ANA}/texts`);
    expect(body).toEqual({
      texts: [{ from: PROGRAM, body: 'Welcome', at: '2026-11-24T12:00:00Z', parts: 1, files: [] }],
    });
    expect((await ask('GET', '/handsets/+13035550199/texts')).body).toEqual({ texts: [] });
  });

  it.each([
    ['POST', '/handsets', {}, /^number: give a number/],
    ['POST', '/handsets', { number: 5 }, /^number: /],
    ['POST', '/handsets', { number: '12345' }, /^number: /],
    ['POST', '/handsets', { number: ANA, behaviour: 'asleep' }, /^behaviour: one of normal, off/],
    ['POST', '/handsets/nobody/texts', { to: PROGRAM, body: 'x' }, /^number: the handset/],
    ['POST', `/handsets/${ANA}/texts`, { to: '12', body: 'x' }, /^to: /],
    ['POST', `/handsets/${ANA}/texts`, { to: PROGRAM }, /^body: /],
    ['POST', `/handsets/${ANA}/texts`, { to: PROGRAM, body: 'x'.repeat(1_601) }, /^body: .*1,600/],
    ['GET', '/handsets/nobody/texts', undefined, /^number: /],
  ])('%s %s %j is refused in words, and nothing is sent', async (method, path, input, sentence) => {
    const { status, body } = await ask(method, path, input);
    expect([status, body.detail]).toEqual([400, expect.stringMatching(sentence)]);
    expect(world.carrier.sent).toEqual([]);
    expect(world.handsets.pinned()).toEqual([]);
  });
});

describe('the bench’s clock', () => {
  it('moves by a duration and tells where it stands', async () => {
    const before = world.clock.offset;
    const { body } = await ask('POST', '/clock', { advance: 'PT2H' });
    expect(body.offset_ms).toBe(before + 7_200_000);
    expect((await ask('GET', '/clock')).body.offset_ms).toBe(before + 7_200_000);
  });

  it.each([{}, { advance: 'soon' }, { advance: 'P500D' }, { advance: 60 }])(
    'does not move by %j',
    async (input) => {
      const before = world.clock.offset;
      const { status, body } = await ask('POST', '/clock', input);
      expect([status, body.detail]).toEqual([400, expect.stringMatching(/^advance: /)]);
      expect(world.clock.offset).toBe(before);
    },
  );

  it('tells pages that listen of every move', async () => {
    const stop = new AbortController();
    const response = await fetch(`http://127.0.0.1:${port}/stream`, { signal: stop.signal });
    const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
    expect((await reader.read()).value).toContain(`"offset_ms":${world.clock.offset}`);
    await ask('POST', '/clock', { advance: 'PT1M' });
    expect((await reader.read()).value).toContain(`"offset_ms":${world.clock.offset}`);
    stop.abort();
  });
});

describe('the bench’s carrier', () => {
  it('takes faults one by one, and none of a request that is wrong', async () => {
    await ask('PUT', '/carrier/faults', { lost_receipt_share: 0.5 });
    const { status, body } = await ask('PUT', '/carrier/faults', { refuse_share: 0.1, late_by: 'later' });
    expect([status, body.detail]).toEqual([400, expect.stringMatching(/^late_by: /)]);
    expect((await ask('GET', '/carrier/faults')).body).toEqual({ ...NO_FAULTS, lost_receipt_share: 0.5 });
  });

  it('tells its links and counts, and drops the link', async () => {
    expect((await ask('GET', '/carrier')).body).toMatchObject({ links: 1, submitted: 3, receipts: 2 });
    await ask('POST', '/carrier/drop');
    expect(world.carrier.dropped()).toBe(1);
  });

  it('looks lines up as their handsets behave', async () => {
    await ask('POST', '/handsets', { number: ANA, behaviour: 'landline' });
    const { body } = await ask('POST', '/lookup', { numbers: [ANA, '+13075550191', '+13035550101'] });
    expect(body.numbers).toMatchObject([
      { line_type: 'landline' },
      { line_type: 'unknown' },
      { line_type: 'mobile' },
    ]);
    expect((await ask('POST', '/lookup', { numbers: ANA })).body.detail).toMatch(/^numbers: /);
  });
});

describe('the bench', () => {
  it.each([
    ['POST', '/clock', '{', 400, 'The body is not JSON.'],
    ['POST', '/clock', '[1]', 400, 'Send a JSON object.'],
    ['POST', '/clock', `{"x":"${'x'.repeat(100_001)}"}`, 400, 'The body is larger than 100 kB.'],
    ['DELETE', '/handsets', undefined, 404, 'There is nothing at DELETE /handsets.'],
    ['GET', '/nowhere', undefined, 404, 'There is nothing at GET /nowhere.'],
  ])('answers %s %s in words', async (method, path, body, status, detail) => {
    expect(await ask(method, path, body)).toMatchObject({ status, body: { detail } });
  });

  it('answers no page of another site', async () =>
    expect(await raw('GET /clock HTTP/1.1\r\nHost: elsewhere.example')).toMatch(/^HTTP\/1\.1 403/));

  it.each(['/handsets/%zz/texts', '//'])('survives an address that cannot be read: %s', async (path) => {
    expect(await raw(`GET ${path} HTTP/1.1\r\nHost: localhost`)).toMatch(/^HTTP\/1\.1 4\d\d/);
    expect((await ask('GET', '/health')).body).toEqual({ ok: true });
  });
});

it('shows every fault under words, not under its name', () => {
  for (const name of Object.keys(NO_FAULTS)) expect(PAGE).toContain(`${name}: '`);
});
