import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, SECOND } from '@/core/shared/instant';
import { CreditEntry } from '@/db/credits/entities';
import { NumberOrder, SenderNumberRow } from '@/db/numbers/entities';
import { Program, ProgramSender } from '@/db/programs/entities';
import { workThrough } from '@/services/kit/trouble';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import { SimulatedStock } from '@/standins/stock';
import {
  callPortBack,
  giveNumberBack,
  MONTH_QUEUE,
  ORDER_QUEUE,
  orderNumber,
  orderPortIn,
  readAreasWanted,
  searchStocks,
  wishOf,
} from './market';
import { connectProvider, PROVIDER_QUEUE, standingProviders } from './providers';

let world: World;
let stock: SimulatedStock;
let server: Server;
let url = '';
let now = 0;
const ME = { accountId: null, name: 'test' };

beforeAll(async () => {
  server = createServer((request, response) => {
    const { pathname, searchParams } = new URL(request.url!, 'http://bench');
    void stock.take(request, response, pathname, searchParams);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => void server.close());
beforeEach(async () => {
  world = await makeWorld();
  now = 0;
  stock = new SimulatedStock(null, () => now);
});
afterEach(() => world.close());

const connect = async (account = 'juniper') => {
  must(
    await world.within((scope) => connectProvider(world.ctx, scope, { url, account, token: 'bench' }, ME)),
  );
  await workThrough(world.ctx, PROVIDER_QUEUE);
};
const offers = async (asked: object) =>
  searchStocks(await world.within(standingProviders), must(wishOf(asked)));
const look = async (asked: object) => (await offers(asked)).offers.map(({ number }) => number);
const take = (number: string, programs: string[] = []) =>
  world.within((scope) => orderNumber(world.ctx, scope, { number, programs }, ME));
const work = () => workThrough(world.ctx, ORDER_QUEUE);
const orders = () =>
  world.within((scope) => scope.em.find(NumberOrder, {}, { orderBy: { createdAt: 'asc', id: 'asc' } }));
const senders = () =>
  world.within((scope) => scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { id: 'asc' } }));

describe('a number', () => {
  it('is found by area code, digits or a word, and taken for a program', async () => {
    await connect();
    const found = await look({ area: '(303)' });
    expect(found.length).toBeGreaterThan(3);
    expect(found.every((number) => number.startsWith('+1303'))).toBe(true);
    expect(await look({ kind: 'short-code' })).toContain('55512');
    expect(wishOf({ digits: 'STAR' })).toMatchObject({ value: { digits: '7827' } });
    expect(wishOf({ area: '12' })).toMatchObject({ ok: false });
    must(await take(found[0]!, ['Clear Sky Alerts']));
    expect(await take(found[0]!)).toMatchObject({ ok: false });
    await work();
    const sender = (await senders()).at(-1)!;
    expect(sender).toMatchObject({ number: found[0], registration: 'none', sms: true, monthlyCredits: 40 });
    const program = await world.within((scope) => scope.em.findOneOrFail(Program, {}));
    expect(
      await world.within((scope) =>
        scope.em.count(ProgramSender, { programId: program.id, senderId: sender.id }),
      ),
    ).toBe(1);
    expect(await look({ area: '303' })).not.toContain(found[0]);
    expect((await orders()).map(({ state }) => state)).toEqual(['done']);
  });

  it('that two providers let alike is shown with both, and taken once, from the one that is meant', async () => {
    await connect();
    await connect('cedar');
    const [juniper, cedar] = await world.within(standingProviders);
    const { offers: found, troubles } = await offers({ area: '303' });
    expect(troubles).toEqual([]);
    const [one, other] = found;
    expect(one!.number).toBe(other!.number);
    expect([one!.provider.id, other!.provider.id].sort()).toEqual([juniper!.id, cedar!.id].sort());
    expect(await take(one!.number)).toMatchObject({
      reason: { problems: [{ field: 'provider', message: expect.stringContaining('Say which is meant') }] },
    });
    const from = (provider: string) =>
      world.within((scope) => orderNumber(world.ctx, scope, { number: one!.number, provider }, ME));
    must(await from(cedar!.id));
    expect(await from(juniper!.id)).toMatchObject({ ok: false });
    await work();
    expect((await senders()).at(-1)).toMatchObject({ number: one!.number, providerId: cedar!.id });
    expect(await from(juniper!.id)).toMatchObject({ ok: false });
  });

  it('of one provider is found while another does not answer, and that is said', async () => {
    await connect();
    await world.within(async (scope) => {
      must(
        await connectProvider(world.ctx, scope, { url: 'http://127.0.0.1:9', account: 'x', token: 'x' }, ME),
      );
    });
    const { offers: found, troubles } = await offers({ area: '303' });
    expect(found.length).toBeGreaterThan(3);
    expect(troubles).toMatchObject([{ name: 'x' }]);
    expect(
      await world.within((scope) =>
        connectProvider(world.ctx, scope, { url, account: 'juniper', token: 'bench' }, ME),
      ),
    ).toMatchObject({ ok: false });
  });

  it('is taken once when the worker dies after the provider’s yes', async () => {
    await connect();
    const [number] = await look({ area: '719' });
    must(await take(number!));
    stock.setMoods({ line: 'cuts' });
    expect(await work()).toBe(0);
    expect((await orders())[0]!.state).toBe('asked');
    stock.setMoods({ line: 'up' });
    world.clock.at += HOUR;
    expect(await work()).toBe(1);
    expect((await senders()).map((one) => one.number)).toContain(number);
  });

  it('that somebody else took meanwhile says so, and the next is worked on', async () => {
    await connect();
    const [first, second] = await look({ area: '505' });
    must(await take(first!));
    must(await take(second!));
    const answer = await fetch(`${url}/accounts/cedar/numbers/${encodeURIComponent(first!)}`, {
      method: 'PUT',
      headers: { authorization: 'Bearer bench' },
      body: JSON.stringify({ reference: 'theirs' }),
    });
    expect(answer.status).toBe(201);
    await work();
    expect((await orders()).map(({ number, state }) => [number, state])).toEqual(
      expect.arrayContaining([
        [first, 'refused'],
        [second, 'done'],
      ]),
    );
    expect((await orders()).find(({ number }) => number === first)!.reason).toContain('taken it meanwhile');
  });

  it('that another workspace has is given back to the provider', async () => {
    await connect();
    const [number] = await look({ area: '801' });
    must(await take(number!));
    const other = await world.another();
    await world.within(
      (scope) =>
        scope.run(`update sender_number set number = :number where workspace_id = :workspace`, {
          number: number!,
        }),
      other.id,
    );
    await work();
    await work();
    expect((await orders()).map(({ what, state }) => `${what} ${state}`).sort()).toEqual([
      'give-back done',
      'take refused',
    ]);
    expect(await look({ area: '801' })).toContain(number);
  });

  it('goes back to its provider when it is given back, and one that was entered by hand to nobody', async () => {
    await connect();
    const [number] = await look({ area: '208' });
    must(await take(number!));
    await work();
    const [byHand, taken] = [(await senders())[0]!, (await senders()).at(-1)!];
    must(await world.within((scope) => giveNumberBack(world.ctx, scope, byHand.id, ME)));
    expect(await orders()).toHaveLength(1);
    must(await world.within((scope) => giveNumberBack(world.ctx, scope, taken.id, ME)));
    await work();
    expect(await look({ area: '208' })).toContain(number);
  });

  it('is refused by an account that is closed, in the words of the provider', async () => {
    await connect('closed');
    must(await take((await look({ area: '719' }))[0]!));
    await work();
    expect(await orders()).toMatchObject([{ state: 'refused', reason: 'This account takes nothing.' }]);
  });
});

it('people are counted by area code, those first who know none of our numbers', async () => {
  await world.texts('+13035550101', 'sky');
  await world.texts('+13035550102', 'sky');
  await world.texts('+17195550199', 'sky');
  expect(await world.within(readAreasWanted)).toEqual([
    { area: '303', region: 'CO', people: 2, known: false },
    { area: '719', region: 'CO', people: 1, known: true },
  ]);
});

describe('a number that is brought along', () => {
  const FACTS = { holder: 'Juniper Gap Observatory', account: '77-1', postal_code: '81201' };
  const bring = (number = '+17195550177', more: { pin?: string; programs?: string[] } = {}) =>
    world.within((scope) => orderPortIn(world.ctx, scope, { number, ...FACTS, ...more }, ME));
  const later = async (ms: number) => {
    now += ms;
    world.clock.at += 30 * SECOND;
    return work();
  };

  it('is checked, has its day, and is ours then, with what it costs', async () => {
    await connect();
    must(await bring(undefined, { programs: ['Clear Sky Alerts'] }));
    await work();
    expect((await orders())[0]).toMatchObject({ what: 'port-in', state: 'waiting', plannedAt: null });
    await later(4_000);
    expect((await orders())[0]!.plannedAt!.toISOString()).toContain('1970-01-01');
    expect(await bring()).toMatchObject({ ok: false });
    await later(5_000);
    expect((await orders())[0]!.state).toBe('done');
    const sender = (await senders()).at(-1)!;
    expect(sender).toMatchObject({ number: '+17195550177', monthlyCredits: 40 });
    // Once for taking it, and its first month; another when that is over, also after a time nothing ran.
    const paid = async () =>
      (await world.within((scope) => scope.em.find(CreditEntry, { subject: sender.id }))).map(
        ({ kind, delta }) => `${kind} ${delta}`,
      );
    await workThrough(world.ctx, MONTH_QUEUE);
    await workThrough(world.ctx, MONTH_QUEUE);
    expect(await paid()).toEqual(['number-setup -100', 'number-month -40']);
    world.clock.at += 65 * DAY;
    for (let i = 0; i < 5; i++) await workThrough(world.ctx, MONTH_QUEUE);
    expect((await paid()).slice(2)).toEqual(['number-month -40', 'number-month -40']);
    must(await world.within((scope) => giveNumberBack(world.ctx, scope, sender.id, ME)));
    world.clock.at += 65 * DAY;
    await workThrough(world.ctx, MONTH_QUEUE);
    expect(await paid()).toHaveLength(4);
  });

  it('that is refused says why, and may be asked for again', async () => {
    await connect();
    must(await bring(undefined, { pin: '0000' }));
    await work();
    await later(4_000);
    expect((await orders())[0]).toMatchObject({ state: 'refused', reason: expect.stringContaining('PIN') });
    must(await bring());
  });

  it('is called back before it changes over; later it is ours', async () => {
    await connect();
    const back = (id: string) => world.within((scope) => callPortBack(world.ctx, scope, id, ME));
    const first = must(await bring());
    await work();
    must(await back(first.id));
    await work();
    expect((await orders())[0]).toMatchObject({ state: 'called-back', dueAt: null });
    await later(20_000);
    expect(await senders()).toHaveLength(1);
    const second = must(await bring('+17195550178'));
    await work();
    now += 20_000;
    must(await back(second.id));
    await work();
    await later(1_000);
    expect((await orders()).find(({ id }) => id === second.id)!.state).toBe('done');
    expect((await senders()).map(({ number }) => number)).toContain('+17195550178');
    expect(await back(second.id)).toMatchObject({ ok: false });
  });

  it('needs to be a number', async () => {
    await connect();
    expect(await bring('hello')).toMatchObject({ ok: false });
  });
});
