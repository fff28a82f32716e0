import { afterAll, beforeAll, expect, it } from 'vitest';
import { reading, type Reading } from '@/db/kit/scope';
import { together } from '@/db/kit/together';
import { createBatch } from './batches/batches';
import { HAPPENING_QUEUE } from './follow';
import { dueRows } from './kit/trouble';
import { ROOMS } from './rooms';
import { createBroadcast, sendBroadcast } from './sends/broadcasts';
import { broadcastTo } from './testing/sending';
import { makeWorld, type World } from './testing/world';

const ME = { name: 'acc_test', accountId: null };
const QUEUES = [HAPPENING_QUEUE, ...ROOMS.flatMap((room) => room.queues ?? [])];

let world: World;
beforeAll(async () => {
  world = await makeWorld();
  await broadcastTo(world, 3);
  await world.within(async (scope) => {
    const made = await createBroadcast(
      world.ctx,
      scope,
      { program: 'Clear Sky Alerts', name: 'Second', body: 'Clear.' },
      ME,
    );
    if (made.ok) await sendBroadcast(world.ctx, scope, made.value.id, {}, ME);
    await createBatch(
      world.ctx,
      scope,
      { name: 'B', action: 'keep', condition: '', grace_seconds: 0 } as never,
      ME,
    );
  });
});
afterAll(() => world.close());

it('what every queue would work on is the same whether each asks or all ask as one', async () => {
  let trips = 0;
  const direct = reading(world.ctx.orm);
  const counted: Reading = { rows: (sql, values) => (trips++, direct.rows(sql, values)) };
  const ask = together(counted, 20);
  const dueOf = (asking: Reading) =>
    Promise.all(
      QUEUES.map(async (queue) => [
        queue.name,
        await queue.due(asking, () => 'true', new Date(world.clock.at)),
      ]),
    );
  const [alone, asOne] = [await dueOf(direct), await dueOf(ask)];
  expect(asOne).toEqual(alone);
  expect(alone.filter(([, due]) => due!.length > 0).length).toBeGreaterThan(3);
  expect(trips).toBe(1);
});

it('and which of it waits for its next try is known there too', async () => {
  const ask = together(reading(world.ctx.orm), 20);
  const queue = QUEUES.find(({ name }) => name === 'batch')!;
  const [row] = await dueRows(world.ctx, queue, ask);
  await world.within((scope) =>
    scope.run(
      `insert into trouble (queue, row_id, workspace_id, tries, problem, since, next_try_at) values ('batch', :id, :workspace, 1, 'x', now(), :later)`,
      { id: row!.id, later: new Date(world.clock.at + 60_000) },
    ),
  );
  expect(await dueRows(world.ctx, queue, ask)).toEqual([]);
  world.clock.at += 120_000;
  expect(await dueRows(world.ctx, queue, ask)).toEqual([{ ...row, troubled: true }]);
});
