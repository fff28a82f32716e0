import ICAL from 'ical.js';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, toIso } from '@/core/shared/instant';
import { addAccount } from '@/services/access/create-workspace';
import { round, Scripted } from '@/services/testing/sending';
import { must } from '@/services/testing/people';
import { makeWorld, NOON, phone, type World } from '@/services/testing/world';
import { createBroadcast, sendBroadcast } from './broadcasts';
import { endSendsCalendar, followSends, newSendsCalendar, readCalendar, readPileUp } from './calendar';
import { moveByDays } from './reschedule';

const ME = { name: 'test', accountId: null };
let world: World;
let accountId: string;
beforeEach(async () => {
  world = await makeWorld();
  accountId = await account();
});
afterEach(() => world.close());

const account = (): Promise<string> =>
  addAccount(world.ctx, world.workspaceId, {
    ...{ email: 'odile@juniper-gap.example.org', name: 'Odile Verne', role: 'owner' as const },
    password: 'a long pass phrase',
  });

async function scheduled(name: string, at: number, audience?: string): Promise<string> {
  const { id } = must(
    await world.within((scope) =>
      createBroadcast(
        world.ctx,
        scope,
        { program: 'Clear Sky Alerts', name, body: name, ...(audience ? { audience } : {}) },
        ME,
      ),
    ),
  );
  must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, { at: toIso(at) }, ME)));
  return id;
}

const read = () =>
  world.within((scope) =>
    readCalendar(
      scope,
      { from: NOON - DAY, to: NOON + 30 * DAY },
      { now: NOON, zone: 'America/Denver', accountId },
    ),
  );

describe('the calendar of sends', () => {
  it('shows what is to go in order, and what a promise of six a month has left', async () => {
    for (let i = 1; i <= 7; i++) await scheduled(`B${i}`, NOON + i * HOUR);
    const { rows, promises } = await read();
    expect(rows.map(({ name }) => name)).toEqual(['B1', 'B2', 'B3', 'B4', 'B5', 'B6', 'B7']);
    expect(promises).toEqual([
      { program: 'Clear Sky Alerts', promised: 6, period: 'month', sent: 0, planned: 7 },
    ]);
  });

  it('moves by days, back again, and not into the past', async () => {
    const id = await scheduled('B', NOON + DAY);
    const move = (days: number) => world.within((scope) => moveByDays(world.ctx, scope, id, days, ME));
    expect(must(await move(2)).sendAt).toEqual(new Date(NOON + 3 * DAY));
    expect(must(await move(-2)).sendAt).toEqual(new Date(NOON + DAY));
    for (const days of [-7, 0.5, 400]) expect(await move(days)).toMatchObject({ ok: false });
  });

  it('counts who gets several', async () => {
    for (let i = 0; i < 3; i++) await world.texts(phone(i), 'sky');
    await round(world, new Scripted());
    await scheduled('all', NOON + DAY);
    await scheduled(
      'one',
      NOON + DAY,
      JSON.stringify({ ask: 'field', field: 'number', test: 'is', value: phone(1) }),
    );
    const pile = () => world.within((scope) => readPileUp(scope, NOON, NOON + 7 * DAY, NOON));
    expect(await pile()).toEqual({ several: 1, most: 2 });
    await scheduled('again', NOON + 2 * DAY);
    expect(await pile()).toEqual({ several: 3, most: 3 });
  });

  it('is followed by a calendar, until the address is ended', async () => {
    const id = await scheduled('Saturn week', NOON + DAY);
    const actor = { name: 'Odile', accountId };
    const address = await world.within((scope) => newSendsCalendar(world.ctx, scope, actor));
    const key = address.split('/').at(-2)!;
    const text = (await followSends(world.ctx, key))!;
    const event = new ICAL.Event(
      new ICAL.Component(ICAL.parse(text) as never).getFirstSubcomponent('vevent')!,
    );
    expect(event.summary).toBe('Saturn week (Clear Sky Alerts)');
    expect(event.startDate.toJSDate()).toEqual(new Date(NOON + DAY));
    expect(event.uid).toBe(id);
    expect(await followSends(world.ctx, 'other')).toBeNull();
    await world.within((scope) => endSendsCalendar(world.ctx, scope, actor));
    expect(await followSends(world.ctx, key)).toBeNull();
  });
});
