import { afterEach, beforeEach, expect, it } from 'vitest';
import { MINUTE } from '@/core/shared/instant';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { acrossWorkspaces, reading } from './scope';
import { readStir } from './stir';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const stir = (ahead = 0) => readStir(reading(world.ctx.orm), new Date(world.clock.at + ahead));

it('differs once something that was written can be seen, also of a transaction that began long before', async () => {
  let end: () => void = () => {};
  let wrote: () => void = () => {};
  const written = new Promise<void>((resolve) => (wrote = resolve));
  const long = acrossWorkspaces(world.ctx.orm, async (crossing) => {
    await crossing.run(`update program set name = 'Later'`);
    wrote();
    await new Promise<void>((resolve) => (end = resolve));
  });
  await written;
  await world.within((scope) => scope.run(`update workspace set name = 'Soon' where id = :workspace`));
  const { mark } = await stir();
  const seen = () =>
    world.rows(
      `select w.name as workspace, p.name as program from workspace w join program p on p.workspace_id = w.id where w.id = :workspace`,
    );
  expect(await seen()).toEqual([{ workspace: 'Soon', program: 'Clear Sky Alerts' }]);
  end();
  await long;
  expect(await seen()).toEqual([{ workspace: 'Soon', program: 'Later' }]);
  expect((await stir()).mark).not.toBe(mark);
});

it('says whether a message is due before an instant', async () => {
  expect((await stir()).due).toBe(false);
  await world.texts(phone(1), 'sky');
  expect((await stir()).due).toBe(true);
  // Who sends nothing is told of none.
  expect((await readStir(reading(world.ctx.orm), null)).due).toBe(false);
  await world.rows(
    `update message set not_before = not_before + interval '2 minutes' where workspace_id = :workspace returning 1`,
  );
  expect([(await stir()).due, (await stir(3 * MINUTE)).due]).toEqual([false, true]);
});
