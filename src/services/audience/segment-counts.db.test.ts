import { afterEach, beforeEach, expect, it } from 'vitest';
import { DAY } from '@/core/shared/instant';
import { workThrough } from '@/services/kit/trouble';
import { setLabel, findOrMakeLabel } from '@/services/people/labels';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { countSegments, SEGMENT_QUEUE } from './segment-counts';
import { createSegment, saveSegment } from './segments';

let world: World;
let tag: string;
const me = { name: 'key:test', accountId: null };

beforeEach(async () => {
  world = await makeWorld();
  await world.within((scope) =>
    scope.run(
      `with a as (insert into account (id, email, name, password_hash, created_at) values ('acc_1', 'a@example.org', 'A', 'x', now()) returning id)
       insert into membership (workspace_id, account_id, role) select :workspace, id, 'owner' from a`,
    ),
  );
  for (let i = 0; i < 3; i++) await world.texts(phone(i), 'sky');
  const made = await world.within((scope) => findOrMakeLabel(world.ctx, scope, 'tag', 'walks', 'test'));
  if (!made.ok) throw new Error('refused');
  tag = made.value.id;
});
afterEach(() => world.close());

const put = (n: number) =>
  world.within(async (scope) => {
    const people = await scope.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace order by id limit :n`,
      { n },
    );
    await setLabel(
      world.ctx,
      scope,
      tag,
      people.map(({ id }) => id),
      true,
    );
  });
const condition = () => JSON.stringify({ all: [{ ask: 'tag', id: tag, has: true }] });
async function segment() {
  const made = await world.within((scope) =>
    createSegment(world.ctx, scope, { name: 'Walkers', condition: condition() }, me),
  );
  if (!made.ok) throw new Error(JSON.stringify(made.reason));
  return made.value;
}
const counts = async () => {
  const counted = await world.within((scope) => countSegments(scope, 'acc_1', world.clock.at));
  if (!counted.ok) throw new Error('refused');
  return counted.value;
};

it('counts each segment once a day, and tells what changed since a week ago', async () => {
  const { id } = await segment();
  await put(1);
  expect(await counts()).toEqual({ everybody: 3, counts: { [id]: { count: 1, change: null } } });
  expect([await workThrough(world.ctx, SEGMENT_QUEUE), await workThrough(world.ctx, SEGMENT_QUEUE)]).toEqual([
    1, 0,
  ]);
  world.clock.at += 6 * DAY;
  expect((await counts()).counts[id]).toEqual({ count: 1, change: null });
  world.clock.at += DAY;
  await put(3);
  expect((await counts()).counts[id]).toEqual({ count: 3, change: 2 });
});

it('compares nothing with what asked something else, and counts nothing that cannot be', async () => {
  const made = await segment();
  await workThrough(world.ctx, SEGMENT_QUEUE);
  world.clock.at += 8 * DAY;
  const input = { name: 'Walkers', condition: '{"all":[]}', version: made.version };
  const saved = await world.within((scope) => saveSegment(world.ctx, scope, made.id, input, me));
  expect(saved.ok).toBe(true);
  expect((await counts()).counts[made.id]).toEqual({ count: 3, change: null });
  await world.within((scope) =>
    scope.run(
      `update segment set condition = '{"ask":"field","field":"own.gone","test":"empty"}' where workspace_id = :workspace`,
    ),
  );
  expect((await counts()).counts[made.id]).toEqual({ count: null, change: null });
  expect(await workThrough(world.ctx, SEGMENT_QUEUE)).toBe(1);
});
