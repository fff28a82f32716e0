import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE, SECOND, toIso } from '@/core/shared/instant';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, NOON, phone, type World } from '@/services/testing/world';
import { workThrough } from '@/services/kit/trouble';
import { addSenderNumber } from '@/services/access/create-workspace';
import { actOnBroadcast, createBroadcast, sendBroadcast } from './broadcasts';
import { changePace } from './change-pace';
import { TURNS_QUEUE } from './give-turns';
import type { CreateBroadcastInput, SendBroadcastInput } from './inputs';
import { pauseBroadcast, resumeBroadcast, stopBroadcast } from './move-broadcast';
import { beginDueBroadcasts, finishBroadcasts, prepareBroadcast } from './prepare-broadcast';

const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

/** People who joined, their confirmations out of the way. */
async function joined(numbers: readonly string[]): Promise<void> {
  for (const number of numbers) await world.texts(number, 'sky');
  await round(world, new Scripted());
}

const draft = (more: Partial<CreateBroadcastInput> = {}) =>
  world.within((scope) =>
    createBroadcast(
      world.ctx,
      scope,
      { program: 'Clear Sky Alerts', name: 'B', body: 'Clear tonight.', ...more },
      ME,
    ),
  );

async function going(more: Partial<CreateBroadcastInput>, when: SendBroadcastInput = {}): Promise<string> {
  const { id } = must(await draft(more));
  must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, when, ME)));
  await begun(id);
  return id;
}

async function begun(id: string): Promise<void> {
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
}

/** Turns are given and texts leave, look after look; how many left in all. */
async function run(time: number, every = 30 * SECOND): Promise<number> {
  let left = 0;
  for (const end = world.clock.at + time; world.clock.at < end; world.clock.at += every) {
    await workThrough(world.ctx, TURNS_QUEUE);
    left += await round(world, new Scripted());
  }
  return left;
}

const act = (id: string, verb: typeof pauseBroadcast) =>
  world.within((scope) => actOnBroadcast(world.ctx, scope, id, verb, ME));

describe('a pace', () => {
  const many = Array.from({ length: 12 }, (_, i) => phone(i));

  it('lets so many leave in an hour, and the broadcast ends with the last', async () => {
    await joined(many);
    const id = await going({ pace: { people: 6, per: 'hour' } });
    expect(await run(HOUR, 5 * MINUTE)).toBe(6);
    expect(await finishBroadcasts(world.ctx)).toBe(0);
    expect(await run(HOUR, 5 * MINUTE)).toBe(6);
    expect(await finishBroadcasts(world.ctx)).toBe(1);
    expect(
      await world.rows(
        `select 1 as one from message where workspace_id = :workspace and send_id = :id and turn_at is not null`,
        { id },
      ),
    ).toEqual([]);
  });

  it('is not made up for while nothing ran, and what waited in it is not late', async () => {
    await joined(many);
    await going({ pace: { people: 1, per: 'hour' } });
    expect(await run(10 * MINUTE)).toBe(1);
    world.clock.at += 8 * HOUR;
    expect(await run(2 * MINUTE)).toBe(1);
    // Two days on, at noon: longer than a broadcast may be late.
    world.clock.at = NOON + 2 * DAY;
    expect(await run(2 * MINUTE)).toBe(1);
  });

  it('waits while it is paused, goes on at its pace, and is called back by a stop', async () => {
    await joined(many);
    const id = await going({ pace: { people: 60, per: 'hour' } });
    expect(await run(2 * MINUTE)).toBe(2);
    must(await act(id, pauseBroadcast));
    expect(await run(5 * MINUTE)).toBe(0);
    must(await act(id, resumeBroadcast));
    expect(await run(3 * MINUTE)).toBe(3);
    must(await act(id, stopBroadcast));
    expect(await run(5 * MINUTE)).toBe(0);
    expect(
      await world.rows(
        `select count(*)::int as n from message where workspace_id = :workspace and send_id = :id and state = 'cancelled'`,
        { id },
      ),
    ).toEqual([{ n: 7 }]);
  });

  it('is changed while it goes: slower, and then as fast as the numbers carry', async () => {
    await joined(many);
    const id = await going({});
    const change = (pace: { people: number; per: 'hour' } | null) =>
      world.within((scope) => changePace(world.ctx, scope, id, { pace }, ME));
    must(await change({ people: 60, per: 'hour' }));
    expect(await run(4 * MINUTE)).toBe(4);
    must(await change(null));
    expect(await run(MINUTE)).toBe(8);
    await finishBroadcasts(world.ctx);
    expect(await change(null)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it('evenly until an instant, the night left out', async () => {
    await joined(many);
    // Noon until noon of the next day; Denver is closed from nine to eight.
    await going({ pace: { until: toIso(NOON + DAY) } });
    world.clock.at = NOON;
    const day = await run(9 * HOUR, 10 * MINUTE);
    expect(day).toBeGreaterThanOrEqual(4);
    expect(await run(11 * HOUR, 10 * MINUTE)).toBe(0);
    expect(day + (await run(4 * HOUR + 10 * MINUTE, 10 * MINUTE))).toBe(12);
  });

  it.each<[string, Partial<CreateBroadcastInput>, string]>([
    ['both ways at once', { pace: { people: 5, per: 'hour', until: toIso(NOON + DAY) } }, 'pace'],
    ['half of it', { pace: { people: 5 } }, 'pace'],
    ['hours of no day the program has', { hours: { days: [1], from: '22:00', to: '21:00' } }, 'hours'],
    ['a number that is none of the program', { sender_numbers: ['+17195550199'] }, 'sender_numbers'],
  ])('is refused with %s', async (_, more, field) =>
    expect(await draft(more)).toMatchObject({ ok: false, reason: { problems: [{ field }] } }),
  );

  it('that ends before it begins is refused when it is sent', async () => {
    const { id } = must(await draft({ pace: { until: toIso(NOON + HOUR) } }));
    const later = { at: toIso(NOON + 2 * HOUR) };
    expect(await world.within((scope) => sendBroadcast(world.ctx, scope, id, later, ME))).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'pace' }] },
    });
  });
});

describe('the hour where each of them lives', () => {
  const [NEW_YORK, DENVER, PHOENIX] = ['+12125550101', '+13035550101', '+16025550101'];
  const leavesAt = async (id: string) =>
    Object.fromEntries(
      (
        await world.rows<{ address: string; at: Date }>(
          `select address, not_before as at from message where workspace_id = :workspace and send_id = :id order by id`,
          { id },
        )
      ).map(({ address, at }) => [address, toIso(at.getTime())]),
    );

  it('begins in the east, and reaches each at the same time of day', async () => {
    await joined([NEW_YORK, DENVER, PHOENIX]);
    const { id } = must(await draft());
    const set = must(
      await world.within((scope) => sendBroadcast(world.ctx, scope, id, { local: '2026-11-25T10:00' }, ME)),
    );
    expect(toIso(set.sendAt!.getTime())).toBe('2026-11-25T15:00:00.000Z');
    world.clock.at = set.sendAt!.getTime();
    await begun(id);
    expect(await leavesAt(id)).toEqual({
      [NEW_YORK]: '2026-11-25T15:00:00.000Z',
      [DENVER]: '2026-11-25T17:00:00.000Z',
      [PHOENIX]: '2026-11-25T17:00:00.000Z',
    });
  });

  it('at which it is closed there waits for the morning', async () => {
    await joined([DENVER]);
    const { id } = must(await draft());
    const set = must(
      await world.within((scope) => sendBroadcast(world.ctx, scope, id, { local: '2026-11-25T05:00' }, ME)),
    );
    world.clock.at = set.sendAt!.getTime();
    await begun(id);
    expect(await leavesAt(id)).toEqual({ [DENVER]: '2026-11-25T15:00:00.000Z' });
  });

  it.each([
    [{ local: '2026-02-30T10:00' }, 'local'],
    [{ local: '2026-11-20T10:00' }, 'local'],
    [{ local: '2026-11-25T10:00', at: toIso(NOON + DAY) }, 'at'],
  ])('%j is refused', async (when, field) => {
    await joined([DENVER]);
    const { id } = must(await draft());
    expect(await world.within((scope) => sendBroadcast(world.ctx, scope, id, when, ME))).toMatchObject({
      ok: false,
      reason: { problems: [{ field }] },
    });
  });
});

describe('chosen days and hours', () => {
  it('hold it back, also where it was resumed outside them, and longer than a broadcast is late', async () => {
    await joined([phone(0), phone(1)]);
    // Tuesday noon; only Saturdays.
    const id = await going({ hours: { days: [6], from: '10:00', to: '12:00' } });
    expect(await run(2 * MINUTE)).toBe(0);
    must(await act(id, pauseBroadcast));
    must(await act(id, resumeBroadcast));
    expect(await run(2 * MINUTE)).toBe(0);
    world.clock.at = Date.parse('2026-11-28T10:00:00-07:00');
    expect(await run(MINUTE)).toBe(2);
  });
});

describe('chosen numbers', () => {
  it('are the only ones it leaves from', async () => {
    const second = '+17195550120';
    const { id: program } = (
      await world.rows<{ id: string }>(`select id from program where workspace_id = :workspace`)
    )[0]!;
    await world.within((scope) =>
      addSenderNumber(world.ctx, scope, {
        ...{ number: second, kind: 'local', registration: 'registered', partsPerSecond: 1_000 },
      }),
    );
    await world.rows(
      `insert into program_sender (workspace_id, program_id, sender_id) select :workspace, :program, id from sender_number where number = :second returning 1 as one`,
      { program, second },
    );
    await joined([phone(0), phone(1), phone(2)]);
    await going({ sender_numbers: [second] });
    const carrier = new Scripted();
    await round(world, carrier);
    expect(carrier.parts.map(({ from }) => from)).toEqual([second, second, second]);
  });
});
