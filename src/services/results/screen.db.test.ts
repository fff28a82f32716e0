import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY } from '@/core/shared/instant';
import { readProgramScreen } from '@/services/programs/screen';
import { readResults } from './screen';
import { makeWorld, NOON, NUMBER, phone, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

describe('growth', () => {
  it('is counted by weeks of the workspace’s zone, each person once a week', async () => {
    // Sunday 20:00 in Denver is Monday in Greenwich.
    world.clock.at = Date.UTC(2026, 10, 23, 3, 0);
    await world.texts(phone(0), 'sky');
    world.clock.at = NOON;
    await world.texts(phone(1), 'sky');
    await world.texts(phone(1), 'stop');
    await world.texts(phone(1), 'start');
    const { growth } = await world.within((scope) => readResults(scope, NOON));
    expect(growth).toEqual([
      { week: new Date('2026-11-16T07:00:00Z'), joined: 1, left: 0 },
      { week: new Date('2026-11-23T07:00:00Z'), joined: 1, left: 1 },
    ]);
  });

  it('of a program says who joined, who left, and where they came from', async () => {
    for (let i = 0; i < 3; i++) await world.texts(phone(i), 'sky');
    await world.texts(phone(2), 'stop');
    const [program] = (await world.within((scope) => readResults(scope, world.clock.at))).programs;
    const screen = await world.within((scope) => readProgramScreen(scope, program!.id, world.clock.at));
    expect(screen).toMatchObject({
      counts: { members: 2, left: 1, joined_30: 3, left_30: 1, keywords: ['sky'] },
      senders: [{ number: NUMBER }],
      sources: [{ source: 'SKY', joined: 3, left: 1 }],
    });
    world.clock.at += 40 * DAY;
    const later = await world.within((scope) => readProgramScreen(scope, program!.id, world.clock.at));
    expect(later!.counts).toMatchObject({ members: 2, left: 1, joined_30: 0, left_30: 0 });
  });
});
