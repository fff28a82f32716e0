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
const provider = providerOver(['127.0.0.1']);
let access = { url: '', account: 'juniper', token: 'bench' };
const ANY: StockWish = { kind: null, area: null, town: null, digits: null, pictures: false, calls: false };

beforeAll(async () => {
  await wire.open(() => {});
  access = { ...access, url: wire.url };
});
afterAll(() => wire.close());
beforeEach(() => {
  stock = new SimulatedStock(null);
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
