import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, MINUTE } from '@/core/shared/instant';
import { readToday } from './screen';
import { broadcastTo, deliverTo, round, Scripted } from '@/services/testing/sending';
import { makeWorld, NOON, phone, type World } from '@/services/testing/world';

const ZONE = 'America/Denver';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

describe('today', () => {
  it('counts from midnight in the workspace’s zone', async () => {
    // 23:30 the evening before in Denver is the same day in Greenwich.
    world.clock.at = Date.UTC(2026, 10, 25, 6, 30);
    await world.texts(phone(0), 'sky');
    await round(world, new Scripted());
    world.clock.at = NOON + DAY;
    await world.texts(phone(1), 'sky');
    await round(world, new Scripted());
    const { counts } = await world.within((scope) => readToday(scope, world.clock.at, ZONE, 'acc_nobody'));
    expect(counts).toMatchObject({ joined: 1, sent: 1, left: 0 });
  });

  it('says what is usual by now on such a day, once there were enough of them', async () => {
    const usual = async () =>
      (await world.within((scope) => readToday(scope, world.clock.at, ZONE, 'acc_nobody'))).usual;
    const start = world.clock.at;
    for (let week = 0; week < 5; week++) {
      world.clock.at = start + week * 7 * DAY;
      if (week < 4) expect(await usual()).toBeNull();
      for (let i = 0; i <= week; i++) await world.texts(phone(10 * week + i), 'sky');
      // What comes later in the day does not count yet at this hour.
      world.clock.at += 60 * MINUTE;
      await world.texts(phone(10 * week + 9), 'sky');
      await round(world, new Scripted());
    }
    world.clock.at = start + 5 * 7 * DAY + MINUTE;
    expect(await usual()).toEqual({ sent: 0, replies: 0, joined: 3, left: 0 });
  });

  it('counts people once, and what waits until it leaves', async () => {
    const id = await broadcastTo(world, 4);
    const counts = async () =>
      (await world.within((scope) => readToday(scope, world.clock.at, ZONE, 'acc_nobody'))).counts;
    expect(await counts()).toMatchObject({ joined: 4, sent: 4, held: 4 });
    await deliverTo(world, 4, { 0: '027' });
    world.clock.at += MINUTE;
    await world.texts(phone(1), 'Stop.');
    await world.texts(phone(2), 'what is this');
    await world.texts(phone(3), 'this is spam');
    expect(await counts()).toMatchObject({
      sent: 8,
      failed: 1,
      delivered: 3,
      left: 1,
      replies: 2,
      held: 1,
    });
    // The text that confirms the opt-out is what waits.
    await round(world, new Scripted());
    expect(await counts()).toMatchObject({ sent: 9, held: 0 });
    const { recent } = await world.within((scope) => readToday(scope, world.clock.at, ZONE, 'acc_nobody'));
    expect(recent.map((row) => row.id)).toEqual([id]);
  });
});
