import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { chatNetwork, type ChatAccess, type HandedIn } from '@/gateways/chat/network';
import { readTold, type Told } from '@/gateways/chat/told';
import { SimulatedCarrier } from '@/standins/carrier';
import { NetworkBook } from '@/standins/chat/book';
import { USUAL_MOODS } from '@/standins/chat/moods';
import { SimulatedNetwork } from '@/standins/chat/network';
import { BenchClock } from '@/standins/clock';
import { NO_FAULTS } from '@/standins/faults';
import { Handsets } from '@/standins/handsets';
import { Wire } from './wire';

/** Both ends of the wire, which share no code, each held to what `docs/formats/chat-network.json` says. */
const wire = new Wire('docs/formats/chat-network.json', (request, response) =>
  bench.take(request, response, request.url!),
);
const { wrong } = wire;

const clock = new BenchClock(null);
const handsets = new Handsets();
const carrier = new SimulatedCarrier({ systemId: 'x', password: 'y' }, clock, handsets);
let bench: SimulatedNetwork;
let told: Told[];
let access: ChatAccess;
const network = chatNetwork(['127.0.0.1']);

beforeAll(async () => {
  await wire.open((body) => told.push(...readTold(body, new Date())!));
  access = { url: wire.url, account: 'juniper', token: 'bench' };
});
afterAll(() => wire.close());
beforeEach(async () => {
  told = [];
  wrong.length = 0;
  carrier.faults = { ...NO_FAULTS, receipt_latency_ms: 1 };
  bench = new SimulatedNetwork(new NetworkBook(null), clock, handsets, carrier);
  bench.moods = { ...USUAL_MOODS, review_after: 'PT0S', read_after: 'PT0S', read_share: 1 };
  await network.register(access, {
    url: wire.back,
    secret: `whsec_${Buffer.from('secret').toString('base64')}`,
  });
});

const until = async (holds: () => boolean): Promise<void> => {
  for (let i = 0; i < 300 && !holds(); i++) await new Promise((resolve) => setTimeout(resolve, 10));
  expect(holds()).toBe(true);
};
const template = (more: Partial<HandedIn> = {}): HandedIn => ({
  ...{ name: 'sky_week', language: 'en', category: 'marketing' },
  words: {
    ...{ header: 'Saturn week', footer: 'Juniper Gap' },
    body: 'Hi {$person.first_name :wren:field fallback=friend}, Saturn is up.',
    buttons: [
      { kind: 'reply', words: 'Yes' },
      { kind: 'link', words: 'See', url: 'https://juniper-gap.example.org/saturn' },
      { kind: 'call', words: 'Call', number: '+17195550110' },
      { kind: 'reply', words: 'Leave', leaves: true },
    ],
  },
  samples: { first_name: 'Ada' },
  ...more,
});
const handIn = async (more: Partial<HandedIn> = {}): Promise<string> => {
  const made = await network.handIn(access, template(more));
  if (!made.ok) throw new Error(made.reason.why);
  await until(() => told.some((one) => one.kind === 'review'));
  return made.value.id;
};

describe('both ends of the wire', () => {
  it('agree with the document through a whole conversation', async () => {
    expect(await network.account(access)).toMatchObject({
      ok: true,
      value: { state: 'open', beginLimit: 1_000 },
    });
    const id = await handIn();
    expect(await network.review(access, id)).toEqual({ ok: true, value: { event: 'approve', reason: null } });
    const send = (
      reference: string,
      content: Parameters<typeof network.send>[1]['content'],
      to = '+13035550101',
    ) => network.send(access, { reference, to, content });
    expect(await send('a', { text: 'Hello' })).toMatchObject({ kind: 'refused', reason: 'window-closed' });
    const filled = { first_name: 'Ana' };
    expect(await send('b', { template: { id, filled } })).toMatchObject({ kind: 'taken' });
    expect(await send('b', { template: { id, filled } })).toMatchObject({ kind: 'taken' });
    await until(() => told.some((one) => one.kind === 'receipt' && one.stat === 'read'));
    expect(handsets.find('+13035550101')!.texts.filter(({ direction }) => direction === 'in')).toHaveLength(
      1,
    );
    bench.write('+13035550101', 'juniper', {
      ...{ text: '', button: 'Leave', profile: { name: 'Ana', language: 'es' } },
      files: [{ name: 'a.png', type: 'image/png', bytes: Buffer.from('png') }],
    });
    await until(() => told.some((one) => one.kind === 'arrived'));
    const arrived = told.find((one) => one.kind === 'arrived');
    expect(arrived).toMatchObject({
      chat: { from: '+13035550101', button: { words: 'Leave', leaves: true }, profile: { language: 'es' } },
    });
    const [file] = arrived!.kind === 'arrived' ? arrived!.chat.files : [];
    expect(String(await network.file(access, file!.id))).toBe('png');
    expect(await send('c', { text: 'Goodbye', buttons: [{ kind: 'reply', words: 'Wait' }] })).toMatchObject({
      kind: 'taken',
    });
    expect([await network.has(access, 'c'), await network.has(access, 'nothing')]).toEqual([true, false]);
    expect(await network.withdraw(access, id)).toEqual({ ok: true, value: null });
    expect(await send('d', { template: { id, filled } }, '+13035550102')).toMatchObject({
      reason: 'template-refused',
    });
    bench.block('+13035550101', 'juniper', true);
    bench.setAccount('juniper', { begin_limit: 0 });
    await until(
      () => told.some(({ kind }) => kind === 'account') && told.some(({ kind }) => kind === 'blocked'),
    );
    expect(wrong).toEqual([]);
  });

  it.each([
    ['what presses people', { body: 'Act now, it is the last evening.' }],
    ['shouting', { body: 'COME AND SEE SATURN TONIGHT.' }],
  ])('refuse %s, with the reason', async (_, words) => {
    const id = await handIn({ words: { ...template().words, ...words } });
    const review = await network.review(access, id);
    expect(review.ok && review.value).toMatchObject({
      event: 'refuse',
      reason: expect.stringMatching(/\w/) as string,
    });
    expect(wrong).toEqual([]);
  });

  it('say what is wrong with a template that is misshapen, and with a token that is none', async () => {
    const made = await network.handIn(access, template({ name: 'Sky Week' }));
    expect(made).toMatchObject({
      ok: false,
      reason: { kind: 'refused', why: expect.stringContaining('small letters') as string },
    });
    const stranger = await network.account({ ...access, token: 'guessed' });
    expect(stranger).toMatchObject({ ok: false, reason: { kind: 'refused' } });
    expect(wrong).toEqual([]);
  });
});
