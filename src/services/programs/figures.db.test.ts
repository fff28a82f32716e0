import { afterEach, beforeEach, expect, it } from 'vitest';
import { DAY, HOUR, SECOND } from '@/core/shared/instant';
import { workThrough } from '@/services/kit/trouble';
import { addCrowd } from '@/services/testing/crowd';
import { makeWorld, type World } from '@/services/testing/world';
import { PROGRAM_COUNT_QUEUE } from './figures';
import { readPrograms, readProgramScreen } from './screen';

const CROWD = 5_100;
/** Numbers of nobody in the crowd. */
const fresh = (i: number): string => `+1970555010${i}`;

let world: World;
let program: string;
beforeEach(async () => {
  world = await makeWorld();
  program = (await look()).id;
});
afterEach(() => world.close());

const look = async () => {
  const { programs, countedAt } = await world.within((scope) => readPrograms(scope, world.clock.at));
  return { ...programs[0]!, countedAt };
};
const count = () => workThrough(world.ctx, PROGRAM_COUNT_QUEUE);

it('people of programs are counted at each look, and nothing is kept, where they are few', async () => {
  await world.texts(fresh(1), 'sky');
  expect(await count()).toBe(0);
  expect(await look()).toMatchObject({ members: 1, joined30: 1, countedAt: null });
});

it('where they are many they are kept, counted anew after whatever happened, and less often where it takes long', async () => {
  await world.within((scope) => addCrowd(scope, program, CROWD, { name: 'many' }));
  expect(await look()).toMatchObject({ members: CROWD, countedAt: null });
  expect(await count()).toBe(1);
  const first = world.clock.at;
  expect(await look()).toMatchObject({ members: CROWD, left: 0, countedAt: first });

  await world.texts(fresh(1), 'sky');
  await world.texts(fresh(2), 'sky');
  await world.texts(fresh(2), 'stop');
  expect(await look()).toMatchObject({ members: CROWD, countedAt: first });
  world.clock.at += 10 * 60 * SECOND;
  expect(await count()).toBe(1);
  expect(await look()).toMatchObject({ members: CROWD + 1, left: 1, left30: 1, countedAt: world.clock.at });
  const screen = await world.within((scope) => readProgramScreen(scope, program, world.clock.at));
  expect(screen).toMatchObject({ counts: { members: CROWD + 1, left: 1 }, countedAt: world.clock.at });
  expect(screen!.counts.sources.find(({ source }) => source === 'SKY')).toEqual({
    source: 'SKY',
    joined: 2,
    left: 1,
  });

  // Nothing happened; after an hour the thirty days are others.
  world.clock.at += HOUR / 2;
  expect(await count()).toBe(0);
  world.clock.at += 31 * DAY;
  expect(await count()).toBe(1);
  expect(await look()).toMatchObject({ members: CROWD + 1, left: 1, left30: 0 });

  await world.within((scope) =>
    scope.run(`update program_count set took_ms = 60000 where workspace_id = :workspace`),
  );
  await world.texts(fresh(3), 'sky');
  world.clock.at += 20 * 60 * SECOND;
  expect(await count()).toBe(0);
  world.clock.at += 20 * 60 * SECOND;
  expect(await count()).toBe(1);
});

it('who gives up counting a program keeps what was counted last, for a day', async () => {
  await world.within((scope) => addCrowd(scope, program, CROWD, { name: 'many' }));
  await count();
  await world.texts(fresh(1), 'sky');
  await world.within((scope) => PROGRAM_COUNT_QUEUE.giveUp(world.ctx, scope, program, 'odile'));
  world.clock.at += HOUR;
  expect([await count(), (await look()).members]).toEqual([0, CROWD]);
  world.clock.at += DAY;
  expect([await count(), (await look()).members]).toEqual([1, CROWD + 1]);
});
