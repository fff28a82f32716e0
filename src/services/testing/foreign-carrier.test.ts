import { afterEach, describe, expect, it, vi } from 'vitest';
import { STANDARD_PROFILE, type CarrierProfile } from '@/core/delivery/carrier-profile';
import type { LinkState } from '@/core/delivery/link';
import { splitParts } from '@/core/text/measure';
import type { IncomingPart, Receipt, SubmitOutcome } from '@/gateways/carrier';
import { checkCarrier } from '@/gateways/smpp/check';
import { SmppLink } from '@/gateways/smpp/link';
import { SimulatedCarrier } from '@/standins/carrier';
import { BenchClock } from '@/standins/clock';
import { Handsets } from '@/standins/handsets';
import { NO_HABITS, type Habits } from '@/standins/smpp/habits';
import { CERTIFICATE } from './certificate';

/** The gateway against the bench's message centre, which writes and reads the bytes by itself and has the habit of each case. */

const [US, ANA] = ['+17195550110', '+13035550142'];
const CREDENTIALS = { systemId: 'wren', password: 'bench' };
const LONG = 'The gate opens at nine, bring a lamp and a warm coat; clouds may come later tonight. '.repeat(
  4,
);

let close: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const end of close.reverse()) await end();
  close = [];
});

async function centre(habits: Partial<Habits>, tls?: { key: string; cert: string }) {
  const handsets = new Handsets();
  const clock = new BenchClock(null);
  const carrier = new SimulatedCarrier({ ...CREDENTIALS, ...(tls ? { tls } : {}) }, clock, handsets);
  carrier.habits = { ...NO_HABITS, ...habits };
  carrier.faults.receipt_latency_ms = 1;
  const port = await carrier.listen(0);
  close.push(async () => carrier.dropLinks());
  return { carrier, handsets, port };
}

const options = (port: number, profile: CarrierProfile) => ({
  ...{
    host: '127.0.0.1',
    port,
    ...CREDENTIALS,
    window: 20,
    responseTimeoutMs: 2_000,
    enquireEveryMs: 60_000,
  },
  profile,
});

async function linked(port: number, profile: Partial<CarrierProfile> = {}) {
  const receipts: Receipt[] = [];
  const texts: IncomingPart[] = [];
  const states: LinkState[] = [];
  const link = new SmppLink(options(port, { ...STANDARD_PROFILE, ...profile }), {
    receipt: async (receipt) => void receipts.push(receipt),
    text: async (part) => void texts.push(part),
    settled: () => {},
    link: (state) => void states.push(state),
  });
  close.push(() => link.close());
  await vi.waitFor(() => expect(states).toContain('up'));
  return { link, receipts, texts };
}

/** Sends a text as delivery does; what became of each part. */
const send = (link: SmppLink, body: string, reference = 0x120): Promise<SubmitOutcome[]> => {
  const { alphabet, parts } = splitParts(body);
  return Promise.all(
    parts.map((piece, i) =>
      link.submit({
        ...{ from: US, to: ANA, body: piece, alphabet, validitySeconds: 3_600 },
        concat: parts.length > 1 ? { reference: reference >> 4, total: parts.length, index: i + 1 } : null,
        userReference: reference | i,
      }),
    ),
  );
};

/** The words of parts in their order. */
const assembled = (parts: readonly IncomingPart[]): string =>
  [...parts]
    .sort((a, b) => (a.concat?.index ?? 1) - (b.concat?.index ?? 1))
    .map(({ body }) => body)
    .join('');

type Case = [name: string, habits: Partial<Habits>, profile?: Partial<CarrierProfile>];

/** What each of these does is understood by itself, or is a setting of the profile. */
const CASES: Case[] = [
  ['none of its own', {}],
  ['one out and one in', { binds: 'one out and one in' }, { bind: 'transmitter and receiver' }],
  ['hexadecimal ids told in decimal', { ids: 'hexadecimal, then decimal', receipt_parameters: 'none' }],
  ['decimal ids told in hexadecimal', { ids: 'decimal, then hexadecimal', receipt_parameters: 'none' }],
  ['ids told in capital letters', { ids: 'capital letters in receipts' }],
  [
    'ids told in decimal, as its profile says',
    { ids: 'hexadecimal, then decimal', receipt_parameters: 'none' },
    { receiptIds: 'decimal of hexadecimal' },
  ],
  ['receipts by their words only', { receipt_mark: 'words only', receipt_parameters: 'none' }],
  ['Latin-1 for 0', { alphabet: 'Latin-1' }, { alphabet: 'Latin-1' }],
  ['ASCII for 0', { alphabet: 'ASCII' }, { alphabet: 'ASCII' }],
  ['a class on what comes in', { inbound_coding: '0xF0' }],
  ['ASCII in what comes in', { inbound_coding: '1' }],
  ['Latin-1 in what comes in', { inbound_coding: '3' }],
  ['octets in what comes in', { inbound_coding: '4' }],
  ['UCS-2 for all that comes in', { inbound_coding: '8' }],
  ['UCS-2 with a class', { inbound_coding: '0x18' }],
  ['references of 16 bits', { inbound_parts: '16-bit header' }],
  ['parts by parameters both ways', { inbound_parts: 'sar' }, { parts: 'sar' }],
  ['whole texts in one payload', { inbound_parts: 'one payload' }],
  ['numbers with a plus', { numbers: 'with a plus' }, { plus: true }],
  ['numbers without country', { numbers: 'without country' }],
  ['numbers with 00', { numbers: 'with 00' }],
  ['several PDUs in a packet', { packets: 'several together' }],
  ['PDUs cut anywhere', { packets: 'cut anywhere' }],
];

describe.each(CASES)('a carrier with %s', (_, habits, profile = {}) => {
  it('carries texts out, tells what became of them, and brings texts in', async () => {
    const { carrier, handsets, port } = await centre(habits);
    const { link, receipts, texts } = await linked(port, profile);
    const bodies = ['Clear tonight: £5, señor.', LONG, 'Łódź 😀'];
    const answered: string[] = [];
    for (const [i, body] of bodies.entries()) {
      const outcomes = await send(link, body, (0x12 + i) << 4);
      answered.push(
        ...outcomes.map((outcome) => (outcome.kind === 'taken' ? outcome.carrierId : outcome.kind)),
      );
    }
    expect(handsets.get(ANA).texts.map(({ body }) => body)).toEqual(bodies);
    await vi.waitFor(() => expect(receipts).toHaveLength(answered.length));
    for (const { stat, number, ...receipt } of receipts) {
      expect([stat, number]).toEqual(['DELIVRD', ANA]);
      const meant = [receipt.carrierId, ...(receipt.otherIds ?? []).map(({ id }) => id)];
      expect(answered.filter((id) => meant.includes(id))).toHaveLength(1);
    }
    for (const body of ['STOP', 'Please don’t text me any more', `${LONG}é`]) {
      texts.length = 0;
      carrier.inbound(ANA, US, body);
      await vi.waitFor(() => expect(assembled(texts)).toBe(body));
      expect(texts.every(({ from, to }) => from === ANA && to === US)).toBe(true);
      const total = texts[0]!.concat?.total ?? 1;
      expect(texts).toHaveLength(total);
    }
  });
});

describe('a carrier', () => {
  it.each([
    ['Spanish', '¿Qué tal? Mañana a las 9, por favor: árbol, índigo, óleo, útil.'],
    ['Portuguese', 'Não quero mais mensagens, por favor: chão, céu, fôlego.'],
    ['Turkish', 'Lütfen artık mesaj göndermeyin: ğ, İ, ı, ş, ç.'],
  ] as const)('that writes in the %s table is read', async (inbound_table, body) => {
    const { carrier, port } = await centre({ inbound_table });
    const { texts } = await linked(port);
    for (const words of [body, `${body} `.repeat(5)]) {
      texts.length = 0;
      carrier.inbound(ANA, US, words);
      await vi.waitFor(() => expect(assembled(texts)).toBe(words));
    }
  });

  it('brings receipts over another link than the submit, where there are two', async () => {
    const { port } = await centre({ receipts_over: 'another than the submit' });
    const [one, other] = [await linked(port), await linked(port)];
    await send(one.link, 'Clear tonight.');
    await vi.waitFor(() => expect(other.receipts).toHaveLength(1));
    expect(one.receipts).toEqual([]);
  });

  it('that has no letters for a text is not given another one; what fits is sent as UCS-2', async () => {
    const { handsets, port } = await centre({ alphabet: 'Latin-1' });
    const { link } = await linked(port, { alphabet: 'Latin-1' });
    const long = 'Δ = 3 €. '.repeat(12);
    expect(await send(link, long)).toEqual([{ kind: 'refused', reason: 'unwritable', status: 0 }]);
    await send(link, 'Δ = 3 €');
    expect(handsets.get(ANA).texts.map(({ body }) => body)).toEqual(['Δ = 3 €']);
  });

  it('that finds a text too long refuses it, and it is not tried again', async () => {
    const { port } = await centre({ longest_body: 20 });
    const { link } = await linked(port);
    expect(await send(link, 'Clear tonight, come up the hill.')).toEqual([
      { kind: 'refused', reason: 'too-long', status: 1 },
    ]);
  });

  it('with codes of its own is read by its table', async () => {
    const { handsets, port } = await centre({ errors: 'of its own' });
    const { link, receipts } = await linked(port, {
      errors: { '602': 'landline' },
      statuses: { '11': 'throttled' },
    });
    handsets.get(ANA).behaviour = 'landline';
    await send(link, 'Clear tonight.');
    await vi.waitFor(() => expect(receipts).toMatchObject([{ err: '602', failure: 'landline' }]));
    handsets.get(ANA).behaviour = 'refused';
    expect(await send(link, 'Clear tonight.')).toMatchObject([{ kind: 'refused', reason: 'throttled' }]);
    expect(link.sights).toMatchObject({ receipts: 1, errors: { '602': 1 }, statuses: { '0x0b': 1 } });
  });

  it('that speaks TLS is spoken to in TLS, if its certificate is right', async () => {
    const { port } = await centre({}, CERTIFICATE);
    const profile = { ...STANDARD_PROFILE, tls: true };
    const { steps } = await checkCarrier(options(port, profile));
    expect(steps).toMatchObject([{ good: false, words: expect.stringContaining('self-signed') as string }]);
    const trusted = await checkCarrier({ ...options(port, profile), ca: CERTIFICATE.cert });
    expect(trusted.steps.every(({ good }) => good)).toBe(true);
  });
});

describe('the check of a connection', () => {
  const check = async (habits: Partial<Habits>, over: Partial<typeof CREDENTIALS> = {}) => {
    const { port } = await centre(habits);
    return checkCarrier({ ...options(port, STANDARD_PROFILE), ...over });
  };

  it('says what it saw', async () => {
    const { steps, proposal } = await check({});
    expect(steps.every(({ good }) => good)).toBe(true);
    expect(steps.map(({ words }) => words).join(' ')).toMatch(/took the bind.*“bench”.*answered.*let us go/s);
    expect(proposal).toEqual({});
  });

  it.each(['by its status', 'generic_nack'] as const)(
    'finds that two connections are wanted, told %s, and proposes them',
    async (bind_refusal) => {
      const { steps, proposal } = await check({ binds: 'one out and one in', bind_refusal });
      expect(proposal).toEqual({ bind: 'transmitter and receiver' });
      expect(steps.at(-1)!.words).toContain('one connection out and one in');
    },
  );

  it.each([
    [{ password: 'no' }, /password is wrong/],
    [{ systemId: 'no' }, /does not know the system id/],
  ])('says what is wrong with %j', async (over, sentence) => {
    const { steps } = await check({}, over);
    expect(steps.at(-1)).toMatchObject({ good: false, words: expect.stringMatching(sentence) as string });
  });

  it('says when nobody listens', async () => {
    const { steps } = await checkCarrier(options(9, STANDARD_PROFILE));
    expect(steps).toMatchObject([
      { good: false, words: expect.stringMatching(/cannot be reached/) as string },
    ]);
  });
});
