import { afterAll, beforeAll, beforeEach, expect, it } from 'vitest';
import type { StockWish } from '@/core/numbers/stock';
import { providerOver } from '@/gateways/provider/provider';
import { SimulatedStock } from '@/standins/stock';
import { Wire } from './wire';

/** Both ends of the wire, which share no code, each held to what `docs/formats/number-provider.json` says. */
const wire = new Wire('docs/formats/number-provider.json', (request, response) => {
  const { pathname, searchParams } = new URL(request.url!, 'http://bench');
  return stock.take(request, response, pathname, searchParams);
});
let stock: SimulatedStock;
let now = 0;
const provider = providerOver(['127.0.0.1']);
let access = { url: '', account: 'juniper', token: 'bench' };
const ANY: StockWish = { kind: null, area: null, town: null, digits: null, pictures: false, calls: false };

beforeAll(async () => {
  await wire.open(() => {});
  access = { ...access, url: wire.url };
});
afterAll(() => wire.close());
beforeEach(() => {
  now = 0;
  stock = new SimulatedStock(null, () => now);
  wire.wrong.length = 0;
});

it('both ends of the wire agree with the document, from looking to giving back', async () => {
  expect(await provider.account(access)).toEqual({
    ok: true,
    value: { name: 'Juniper Gap Observatory', state: 'open' },
  });
  const found = await provider.stock(access, {
    ...ANY,
    area: '719',
    pictures: true,
    calls: true,
    kind: 'local',
    town: 'gap',
  });
  if (!found.ok) throw new Error(found.reason.why);
  const [one] = found.value;
  expect(one).toMatchObject({ kind: 'local', town: 'Juniper Gap', mms: true });
  expect(await provider.take(access, one!.number, 'a')).toMatchObject({
    ok: true,
    value: { number: one!.number },
  });
  expect(await provider.take(access, one!.number, 'a')).toMatchObject({ ok: true });
  expect(await provider.take(access, one!.number, 'b')).toMatchObject({
    ok: false,
    reason: { kind: 'gone' },
  });
  expect(await provider.take({ ...access, account: 'closed' }, '55512', 'c')).toMatchObject({
    reason: { kind: 'refused' },
  });
  expect(await provider.giveBack(access, one!.number)).toEqual({ ok: true, value: null });
  expect(await provider.giveBack(access, one!.number)).toEqual({ ok: true, value: null });
  expect(await provider.account({ ...access, token: 'guessed' })).toMatchObject({ ok: false });
  expect(await provider.stock({ ...access, url: 'http://127.0.0.1:9' }, ANY)).toMatchObject({
    reason: { kind: 'unreachable' },
  });
  expect(wire.wrong).toEqual([]);
});

const FACTS = { holder: 'Juniper Gap Observatory', account: '77-1', pin: '1234', postalCode: '81201' };

it('both ends agree on a number that is brought along', async () => {
  const ask = (facts = FACTS, reference = 'p1') =>
    provider
      .portIn(access, '+17195550177', facts, reference)
      .then((one) => (one.ok ? one.value : one.reason));
  expect(await ask()).toMatchObject({ state: 'checking', number: null });
  now = 4_000;
  expect(await ask()).toMatchObject({ state: 'planned', day: '1970-01-01' });
  now = 9_000;
  expect(await ask()).toMatchObject({ state: 'done', number: { number: '+17195550177', setup: 100 } });
  expect(await provider.callPortBack(access, 'p1')).toEqual({ ok: true, value: false });
  await ask({ ...FACTS, pin: '0000' }, 'p2');
  now = 20_000;
  expect(await ask({ ...FACTS, pin: '0000' }, 'p2')).toMatchObject({
    ...{ state: 'refused', reason: 'The transfer PIN is not the one the present provider has.' },
  });
  await ask(FACTS, 'p3');
  expect(await provider.callPortBack(access, 'p3')).toEqual({ ok: true, value: true });
  expect(await provider.callPortBack(access, 'p3')).toEqual({ ok: true, value: true });
  expect(wire.wrong).toEqual([]);
});

it('both ends agree on credits that are bought', async () => {
  const packs = await provider.packs(access);
  if (!packs.ok) throw new Error(packs.reason.why);
  expect(packs.value[0]).toEqual({ id: 'small', credits: 5_000, price: 9_900, currency: 'USD' });
  const buy = (reference: string, pack = 'small') =>
    provider.buy(access, pack, reference).then((one) => (one.ok ? one.value.state : one.reason.kind));
  expect(await buy('a')).toBe('waiting');
  stock.setMoods({ card: 'declines' });
  expect(await buy('b')).toBe('waiting');
  now = 3_000;
  expect(await buy('a')).toBe('paid');
  expect(await buy('b')).toBe('refused');
  expect(await buy('c', 'unheard-of')).toBe('refused');
  expect(wire.wrong).toEqual([]);
});
