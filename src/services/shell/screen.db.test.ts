import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUR } from '@/core/shared/instant';
import { readRibbon } from './screen';
import { moveSequence } from '@/services/sequences/sequences';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { broadcastTo } from '@/services/testing/sending';
import { makeWorld, NOON, phone, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());
const run = (sql: string) => world.within((scope) => scope.run(sql));

describe('the day ribbon', () => {
  it('shows hour by hour what left, what came and what waits for its hour', async () => {
    await broadcastTo(world, 3);
    await run(
      `update message set not_before = not_before + interval '3 hours' where workspace_id = :workspace and kind = 'broadcast'`,
    );
    world.clock.at += HOUR;
    await world.texts(phone(0), 'when');
    await world.texts(phone(1), 'Stop.');
    const { hours, now } = await world.within((scope) => readRibbon(scope, world.clock.at));
    expect([hours.length, now]).toEqual([25, world.clock.at]);
    const busy = hours.filter(({ left, came, stopped, coming }) => left + came + stopped + coming > 0);
    expect(busy).toEqual([
      { at: NOON, left: 3, came: 3, stopped: 0, coming: 0, lines: 0 },
      // The confirmation of the opt-out is due at once; the person who left waits for nothing else.
      { at: NOON + HOUR, left: 0, came: 1, stopped: 1, coming: 1, lines: 0 },
      { at: NOON + 3 * HOUR, left: 0, came: 0, stopped: 0, coming: 2, lines: 0 },
    ]);
  });

  it('shows which lines of sequences fall due, and none of one that is paused', async () => {
    const desk = new SequenceDesk(() => world);
    const id = await desk.publish([
      line('a', { at: 'once' }, says('Hello')),
      line('b', { at: 'after', minutes: 180, from: 'before' }, says('Later')),
    ]);
    for (const i of [0, 1]) await world.texts(phone(i), 'sky');
    await desk.settle();
    const ahead = async () =>
      (await world.within((scope) => readRibbon(scope, world.clock.at))).hours.flatMap(({ at, lines }) =>
        lines > 0 ? [[at, lines]] : [],
      );
    expect(await ahead()).toEqual([[NOON + 3 * HOUR, 2]]);
    await world.within((scope) =>
      moveSequence(world.ctx, scope, id, 'pause', { name: 'x', accountId: null }),
    );
    expect(await ahead()).toEqual([]);
  });
});
