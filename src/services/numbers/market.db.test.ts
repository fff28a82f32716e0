import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { HOUR } from '@/core/shared/instant';
import { NumberOrder, SenderNumberRow } from '@/db/numbers/entities';
import { Program, ProgramSender } from '@/db/programs/entities';
import { workThrough } from '@/services/kit/trouble';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import { SimulatedStock } from '@/standins/stock';
import { giveNumberBack, ORDER_QUEUE, orderNumber, readAreasWanted, searchStock, wishOf } from './market';
import { connectProvider, PROVIDER_QUEUE, standingProvider } from './providers';

let world: World;
let stock: SimulatedStock;
let server: Server;
let url = '';
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
  stock = new SimulatedStock(null);
});
afterEach(() => world.close());

const connect = async (account = 'juniper') => {
  must(
    await world.within((scope) => connectProvider(world.ctx, scope, { url, account, token: 'bench' }, ME)),
  );
  await workThrough(world.ctx, PROVIDER_QUEUE);
};
const look = async (asked: object) => {
  const provider = (await world.within(standingProvider))!;
  return must(await searchStock(provider, must(wishOf(asked)))).map(({ number }) => number);
};
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
