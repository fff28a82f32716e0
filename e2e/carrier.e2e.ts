import { spawn, type ChildProcess } from 'node:child_process';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { LinkState } from '@/core/delivery/link';
import type { IncomingPart, OutgoingPart, Receipt } from '@/gateways/carrier';
import { SmppLink } from '@/gateways/smpp/link';
import { splitParts } from '@/core/text/measure';
import { Bench, ROOT, saying, until } from './support/app';

const PORT = 4551;
const OPTIONS = {
  host: '127.0.0.1',
  port: PORT + 1,
  systemId: 'wren',
  password: 'bench',
  window: 100,
  responseTimeoutMs: 3_000,
  enquireEveryMs: 1_000,
};
const CALM = {
  throttle_per_second: null,
  refuse_share: 0,
  lost_receipt_share: 0,
  double_receipt_share: 0,
  late_receipt_share: 0,
  drop_link_after: null,
};

let benchProcess: ChildProcess;
let bench: Bench;
let link: SmppLink;
let receipts: Receipt[] = [];
let texts: IncomingPart[] = [];
const states: LinkState[] = [];

beforeAll(async () => {
  benchProcess = spawn(process.execPath, ['dist/bench.js'], {
    cwd: ROOT,
    env: {
      ...process.env,
      WREN_DATA_DIR: '',
      WREN_BENCH_PORT: String(PORT),
      WREN_SMPP_PORT: String(PORT + 1),
      WREN_MAIL_PORT: String(PORT + 2),
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  await saying(benchProcess, '"ready"', 20_000);
  bench = new Bench(`http://127.0.0.1:${PORT}`);
  link = new SmppLink(OPTIONS, {
    receipt: async (receipt) => void receipts.push(receipt),
    text: async (part) => void texts.push(part),
    settled: () => {},
    link: (state) => void states.push(state),
  });
  await until(
    async () => states.at(-1),
    (state) => state === 'up',
  );
});
afterAll(async () => {
  await link?.close();
  benchProcess?.kill();
});
beforeEach(async () => {
  receipts = [];
  texts = [];
  await bench.call('PUT', '/carrier/faults', CALM);
});

const part = (to: string, over: Partial<OutgoingPart> = {}): OutgoingPart => ({
  from: '+17195550110',
  to,
  body: 'Clear tonight.',
  alphabet: 'GSM-7',
  concat: null,
  userReference: 160,
  validitySeconds: 14_400,
  ...over,
});
const receiptsOf = (count: number) =>
  until(
    async () => receipts,
    (list) => list.length >= count,
    4_000,
  );
/** What came although nothing should. */
const receiptsAfter = async (ms: number) => {
  await new Promise((resolve) => setTimeout(resolve, ms));
  return receipts;
};

describe('the link to the carrier', () => {
  it('is refused with a wrong password, and says so', async () => {
    const seen: LinkState[] = [];
    const wrong = new SmppLink(
      { ...OPTIONS, password: 'no' },
      {
        receipt: async () => {},
        text: async () => {},
        settled: () => {},
        link: (state) => void seen.push(state),
      },
    );
    await until(
      async () => seen,
      (list) => list.includes('refused'),
    );
    expect(seen).toContain('refused');
    expect(wrong.free()).toBe(0);
    expect(await wrong.submit(part('+13035550101'))).toEqual({ kind: 'not-written' });
    await wrong.close();
  });

  it.each([
    ['GSM-7', 'Extension characters cost two: {€} [~] | and so the text gets long. '.repeat(5)],
    ['UCS-2', 'Łódź 👨‍👩‍👧‍👦 ⭐ '.repeat(14)],
  ] as const)('carries a long text in %s as parts that arrive as one', async (alphabet, body) => {
    const to = alphabet === 'GSM-7' ? '+13035550111' : '+13035550112';
    const { parts } = splitParts(body);
    expect(parts.length).toBeGreaterThan(2);
    for (const [i, piece] of parts.entries())
      await link.submit(
        part(to, { body: piece, alphabet, concat: { reference: 7, total: parts.length, index: i + 1 } }),
      );
    expect((await bench.received(to, 1)).map((text) => text.body)).toEqual([body]);
    expect(await receiptsOf(parts.length)).toHaveLength(parts.length);
  });

  it('gives back the reference and the number with each receipt', async () => {
    const taken = await link.submit(part('+13035550113', { userReference: 0x1230 }));
    const [receipt] = await receiptsOf(1);
    expect(receipt).toMatchObject({
      carrierId: taken.kind === 'taken' && taken.carrierId,
      stat: 'DELIVRD',
      number: '+13035550113',
      userReference: 0x1230,
    });
  });

  it.each([
    ['+13075550191', 'UNDELIV', '001'],
    ['+13075550192', 'UNDELIV', '011'],
    ['+13075550193', 'REJECTD', '040'],
    ['+13075550194', 'UNDELIV', '013'],
  ])('%s always ends as %s %s', async (number, stat, err) => {
    await link.submit(part(number));
    expect((await receiptsOf(1))[0]).toMatchObject({ stat, err });
  });

  it('hears refusals, throttling and doubled or missing receipts', async () => {
    expect(await link.submit(part('+13075550199'))).toMatchObject({
      kind: 'refused',
      reason: 'number-unknown',
    });
    expect(
      [
        await link.submit(part('+13075550195')),
        await link.submit(part('+13075550195')),
        await link.submit(part('+13075550195')),
      ].map((outcome) => outcome.kind),
    ).toEqual(['refused', 'refused', 'taken']);
    await receiptsOf(1);
    receipts = [];
    await link.submit(part('+13075550197'));
    expect(await receiptsOf(2)).toHaveLength(2);
    receipts = [];
    await link.submit(part('+13075550196'));
    expect(await receiptsAfter(600)).toEqual([]);
    await bench.call('PUT', '/carrier/faults', { throttle_per_second: 5 });
    const outcomes = await Promise.all(Array.from({ length: 20 }, () => link.submit(part('+13035550114'))));
    expect(
      outcomes.filter((outcome) => outcome.kind === 'refused' && outcome.reason === 'throttled').length,
    ).toBeGreaterThanOrEqual(10);
    // Theirs must not be taken for those of the next test.
    const taken = outcomes.filter(({ kind }) => kind === 'taken').length;
    expect(await receiptsOf(taken)).toHaveLength(taken);
  });

  it('delivers a late receipt when the clock gets there, and an expiry when the validity is over', async () => {
    await link.submit(part('+13075550198'));
    await link.submit(part('+13075550190'));
    expect(await receiptsAfter(500)).toEqual([]);
    await bench.advance('PT31M');
    expect((await receiptsOf(1)).map(({ stat }) => stat)).toEqual(['DELIVRD']);
    await bench.advance('PT4H');
    expect((await receiptsOf(2)).map(({ stat }) => stat)).toEqual(['DELIVRD', 'EXPIRED']);
  });

  it('settles every open submit as unknown when the link drops, comes back, and gets the receipts then', async () => {
    await bench.call('PUT', '/carrier/faults', { drop_link_after: 40 });
    const before = states.length;
    const outcomes = await Promise.all(
      Array.from({ length: 60 }, (_, i) => link.submit(part('+13035550115', { userReference: i << 4 }))),
    );
    const kinds = new Set(outcomes.map(({ kind }) => kind));
    expect(kinds.has('unknown')).toBe(true);
    expect([...kinds].every((kind) => ['taken', 'unknown', 'not-written'].includes(kind))).toBe(true);
    await until(
      async () => states.slice(before),
      (list) => list.includes('down') && list.at(-1) === 'up',
    );
    expect(states.at(-1)).toBe('up');
    // What was taken and not answered is known again by its receipt.
    const taken = outcomes.filter(({ kind }) => kind === 'taken').length;
    const [arrived, told] = await until(
      async () => [(await bench.texts('+13035550115')).length, receipts.length] as const,
      // Texts still arrive and receipts still come: both are looked at until they agree.
      ([texts, answers]) => texts > taken && texts === answers,
      15_000,
    );
    expect(told).toBe(arrived);
    expect(arrived).toBeGreaterThan(taken);
  });

  it('takes a text from a phone, a long one in parts', async () => {
    await bench.text('+13035550116', '+17195550110', 'sky');
    await until(
      async () => texts,
      (list) => list.length >= 1,
    );
    expect(texts[0]).toMatchObject({ from: '+13035550116', to: '+17195550110', body: 'sky', concat: null });
    await bench.text('+13035550116', '+17195550110', 'ż'.repeat(100));
    await until(
      async () => texts,
      (list) => list.length >= 3,
    );
    expect(texts.slice(1).map(({ concat }) => `${concat?.index}/${concat?.total}`)).toEqual(['1/2', '2/2']);
    expect(
      texts
        .slice(1)
        .map(({ body }) => body)
        .join(''),
    ).toBe('ż'.repeat(100));
  });
});

describe('the bench’s API', () => {
  const refusal = async (method: string, path: string, body: unknown) => {
    const response = await fetch(`${bench.url}${path}`, {
      method,
      body: typeof body === 'string' ? body : JSON.stringify(body),
    });
    return { status: response.status, detail: ((await response.json()) as { detail: string }).detail };
  };
  it.each([
    ['POST', '/handsets', { number: 'x' }, /^number: /],
    ['POST', '/handsets', { number: '+13035550101', behaviour: 'odd' }, /^behaviour: /],
    ['POST', '/handsets/x/texts', { to: '+17195550110', body: 'x' }, /^number: /],
    ['POST', '/handsets/+13035550101/texts', { to: 'x', body: 'x' }, /^to: /],
    ['POST', '/handsets/+13035550101/texts', { to: '+17195550110' }, /^body: /],
    ['POST', '/clock', { advance: 'tomorrow' }, /^advance: /],
    ['POST', '/clock', { advance: 'P900D' }, /^advance: /],
    ['PUT', '/carrier/faults', { odd: 1 }, /^odd: /],
    ['PUT', '/carrier/faults', { refuse_share: 2 }, /^refuse_share: /],
    ['PUT', '/carrier/faults', '{', /not JSON/],
  ])('%s %s %j is refused in words', async (method, path, body, sentence) => {
    const { status, detail } = await refusal(method, path, body);
    expect(status).toBe(400);
    expect(detail).toMatch(sentence);
  });
});
