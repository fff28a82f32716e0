import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Clearance } from '@/core/clearance/clear';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import { CreditEntry, CreditOrder } from '@/db/credits/entities';
import { entryRows } from '@/db/credits/ledger';
import { TeammateMail } from '@/db/email/entities';
import { Message } from '@/db/delivery/entities';
import { addAccount } from '@/services/access/create-workspace';
import { workThrough } from '@/services/kit/trouble';
import { connectProvider, PROVIDER_QUEUE } from '@/services/numbers/providers';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { stopBroadcast } from '@/services/sends/move-broadcast';
import { must } from '@/services/testing/people';
import { broadcastTo, round, Scripted, sent } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { SimulatedStock } from '@/standins/stock';
import { buyCredits, CREDIT_ORDER_QUEUE } from './buy';
import { CREDITS_QUEUE, forecastCredits } from './forecast';
import { changePrices, limitDay } from './limits';
import { checkLedger, readSpent } from './screen';

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
  world = await makeWorld({ credits: 1_000 });
  now = 0;
  stock = new SimulatedStock(null, () => now);
});
afterEach(() => world.close());

const workspace = () => world.within((scope) => scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }));
const balance = async () => Number((await workspace()).creditBalance);
const entries = (kind: CreditEntry['kind']) =>
  world.within((scope) => scope.em.find(CreditEntry, { kind }, { orderBy: { id: 'asc' } }));
/** Nothing is told of a ledger that was not checked. */
const addsUp = async () => expect((await world.within(checkLedger)).gaps).toEqual([]);
const price = (part: number, rules: Parameters<typeof changePrices>[2]['rules'] = []) =>
  world.within((scope) => changePrices(world.ctx, scope, { part, picture: 3, rules }, ME));

describe('what messages cost', () => {
  it('is booked for each send, and given back for what nobody took', async () => {
    const before = await balance();
    const id = await broadcastTo(world, 3);
    const joined = before - (await balance());
    await round(
      world,
      new Scripted([
        { kind: 'refused', reason: 'number-unknown', status: 0x0b },
        { kind: 'refused', reason: 'throttled', status: 0x58 },
      ]),
    );
    expect((await sent(world)).map(({ state }) => state).sort()).toEqual(['failed', 'queued', 'submitted']);
    expect(await balance()).toBe(before - joined - 2);
    await addsUp();
    // What is tried again was paid; stopped before it leaves, it is given back.
    await world.within((scope) => stopBroadcast(world.ctx, scope, id));
    expect(await balance()).toBe(before - joined - 1);
    expect((await entries('returned')).map(({ delta, sendId, texts }) => [delta, sendId, texts])).toEqual([
      [1, id, 1],
      [1, id, 1],
    ]);
    await addsUp();
    const span = { from: '2026-11-24', until: '2026-11-25' };
    const lines = await world.within((scope) => readSpent(scope, span, 'America/Denver'));
    expect(lines.filter(({ send_id: send }) => send === id)).toMatchObject([
      { kind: 'messages', send: 'B', program: 'Clear Sky Alerts', delta: -3, texts: 3 },
      { kind: 'returned', delta: 2 },
    ]);
  });

  it('is by what the number, its carrier and the country cost when it leaves: a price may change in the middle', async () => {
    const id = await broadcastTo(world, 4);
    const before = await balance();
    await round(world, new Scripted(), 1);
    must(await price(2, [{ what: 'text', country: 'us', kind: 'local', credits: 5 }]));
    await round(world, new Scripted(), 1);
    must(await price(2, [{ what: 'text', country: 'CA', credits: 9 }]));
    await round(world, new Scripted());
    const costs = await world.within((scope) =>
      scope.em.find(Message, { sendId: id }, { orderBy: { submittedAt: 'asc', id: 'asc' } }),
    );
    expect(costs.map(({ credits }) => credits).sort()).toEqual([1, 2, 2, 5]);
    expect(await balance()).toBe(before - 10);
    await addsUp();
  });

  it('is refused where it names a country, a carrier or the same twice that is none', async () => {
    const field = async (...rules: Parameters<typeof price>[1] & object) => {
      const answer = await price(1, rules);
      return answer.ok ? null : answer.reason.problems[0]!.field;
    };
    expect(await field({ what: 'text', country: 'XX', credits: 1 })).toBe('rules.0.country');
    expect(await field({ what: 'text', carrier: 'nobody', credits: 1 })).toBe('rules.0.carrier');
    expect(await field({ what: 'text', credits: 1 }, { what: 'text', credits: 2 })).toBe('rules.1');
    expect((await workspace()).prices).toEqual([]);
  });
});

describe('a limit of the day', () => {
  it('holds the rest of a broadcast until tomorrow, and answers whoever writes', async () => {
    must(
      await world.within((scope) =>
        limitDay(world.ctx, scope, { program: 'Clear Sky Alerts', credits: 7 }, ME),
      ),
    );
    await broadcastTo(world, 5);
    // Five confirmations went before it.
    expect(await round(world, new Scripted())).toBe(2);
    await world.texts(phone(9), 'sky');
    expect(await round(world, new Scripted())).toBe(1);
    world.clock.at += 20 * MINUTE;
    expect(await round(world, new Scripted())).toBe(0);
    const held = await world.within((scope) => scope.em.find(Message, { state: 'queued' }));
    expect(held).toHaveLength(3);
    const { verdict, reasons } = held[0]!.clearance as Clearance;
    expect([verdict, reasons[0]]).toMatchObject([
      'held',
      { code: 'day-limit', evidence: { of: 'program', limit: 7, left: 0 } },
    ]);
    world.clock.at += DAY;
    expect(await round(world, new Scripted())).toBe(3);
    await addsUp();
  });

  it('is kept by two workers that claim at once', async () => {
    await broadcastTo(world, 20);
    must(await world.within((scope) => limitDay(world.ctx, scope, { credits: 26 }, ME)));
    await Promise.all([round(world, new Scripted(), 8), round(world, new Scripted(), 8)]);
    await Promise.all([round(world, new Scripted(), 8), round(world, new Scripted(), 8)]);
    expect((await sent(world)).filter(({ state }) => state !== 'queued')).toHaveLength(6);
    await addsUp();
  });

  it('of a program that is not there says so', async () =>
    expect(
      await world.within((scope) => limitDay(world.ctx, scope, { program: 'nobody', credits: 1 }, ME)),
    ).toMatchObject({ ok: false }));
});

describe('credits that are bought', () => {
  const connect = async () => {
    const access = { url, account: 'juniper', token: 'bench' };
    must(await world.within((scope) => connectProvider(world.ctx, scope, access, ME)));
    await workThrough(world.ctx, PROVIDER_QUEUE);
  };
  const buy = (pack = 'small') => world.within((scope) => buyCredits(world.ctx, scope, { pack }, ME));
  const work = () => workThrough(world.ctx, CREDIT_ORDER_QUEUE);
  const orders = () => world.within((scope) => scope.em.find(CreditOrder, {}, { orderBy: { id: 'asc' } }));
  const later = (ms: number) => {
    now += ms;
    world.clock.at += ms;
  };

  it('are there once the payment is through, once', async () => {
    await connect();
    must(await buy());
    await work();
    expect((await orders())[0]).toMatchObject({ state: 'waiting', price: 9_900, currency: 'USD' });
    expect(await balance()).toBe(1_000);
    later(3_000);
    await work();
    await work();
    expect(await balance()).toBe(6_000);
    expect((await entries('bought')).map(({ delta }) => delta)).toEqual([5_000]);
    await addsUp();
  });

  it('are bought once when the worker dies after the provider’s yes', async () => {
    await connect();
    must(await buy());
    stock.setMoods({ line: 'cuts' });
    await work();
    expect((await orders())[0]!.state).toBe('asked');
    stock.setMoods({ line: 'up' });
    later(HOUR);
    await work();
    expect((await orders())[0]!.state).toBe('paid');
    expect((stock.view() as { bought: object }).bought).toSatisfy(
      (all: object) => Object.keys(all).length === 1,
    );
    expect(await balance()).toBe(6_000);
  });

  it('say why not, and what is not sold is refused', async () => {
    await connect();
    expect(await buy('unheard-of')).toMatchObject({ ok: false });
    stock.setMoods({ card: 'declines' });
    must(await buy());
    await work();
    later(3_000);
    await work();
    expect((await orders())[0]).toMatchObject({ state: 'refused', reason: 'The card was declined.' });
    expect(await balance()).toBe(1_000);
  });
});

describe('the forecast', () => {
  const draft = async (at: number) => {
    const made = must(
      await world.within((scope) =>
        createBroadcast(
          world.ctx,
          scope,
          { program: 'Clear Sky Alerts', name: 'Thursday', body: 'Clear on Thursday.' },
          ME,
        ),
      ),
    );
    must(
      await world.within((scope) =>
        sendBroadcast(world.ctx, scope, made.id, { at: new Date(at).toISOString() }, ME),
      ),
    );
  };

  it('is enough until what is scheduled finds too few, and tells the owner once', async () => {
    world = (await world.close(), await makeWorld({ credits: 30 }));
    await addAccount(world.ctx, world.workspaceId, {
      ...{ email: 'ana@example.org', name: 'Ana', password: 'clear-skies-tonight', role: 'owner' },
    });
    for (let i = 0; i < 20; i++) await world.texts(phone(i), 'sky');
    await round(world, new Scripted());
    const at = world.clock.at + 2 * DAY;
    await draft(at);
    const read = await world.within((scope) => forecastCredits(world.ctx, scope));
    expect(read).toMatchObject({ balance: 10, enoughUntil: at, because: 'Thursday', lacking: 10 });
    for (let i = 0; i < 3; i++) {
      await workThrough(world.ctx, CREDITS_QUEUE);
      world.clock.at += HOUR;
    }
    expect((await workspace()).enoughUntil!.getTime()).toBe(at);
    const letters = await world.within((scope) => scope.em.find(TeammateMail, {}));
    expect(letters.map(({ subject }) => subject)).toEqual(['Credits are enough until 2026-11-26 12:00']);
    expect(letters[0]!.body).toContain('“Thursday”');
  });

  it('counts what waits and what goes by itself', async () => {
    await broadcastTo(world, 4);
    const read = await world.within((scope) => forecastCredits(world.ctx, scope));
    expect(read.ahead).toMatchObject([{ credits: 4, what: 'B' }]);
    expect(read.enoughUntil).toBeNull();
    expect(read.points.at(-1)!.left).toBe(read.balance - 4);
  });
});

it('the ledger is read a page at a time, with what was left after each entry', async () => {
  await broadcastTo(world, 2);
  await round(world, new Scripted());
  const all = await world.within((scope) => entryRows(scope, null, 10));
  expect(all[0]!.left).toBe(await balance());
  expect(all.at(-1)).toMatchObject({ kind: 'opening', delta: 1_000, left: 1_000 });
  const rest = await world.within((scope) => entryRows(scope, all[0]!.id, 10));
  expect(rest).toEqual(all.slice(1));
});
