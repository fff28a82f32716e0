import { afterEach, beforeEach, expect, it } from 'vitest';
import { addAccount } from '@/services/access/create-workspace';
import { follow } from '@/services/kit/happenings';
import { editPerson } from '@/services/people/edit-person';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { markNoticesRead, NOTICES_FOLLOW, noticesFor } from './notices';

let world: World;
let mira: string;
beforeEach(async () => {
  world = await makeWorld();
  mira = await addAccount(world.ctx, world.workspaceId, {
    ...{ name: 'Mira Toft', email: 'mira@example.org', role: 'teammate' as const },
    password: 'a long enough password',
  });
});
afterEach(() => world.close());

const person = async (i: number): Promise<string> => {
  await world.texts(phone(i), 'sky');
  return world.within(async (scope) => {
    const [row] = await scope.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and number = :number`,
      { number: phone(i) },
    );
    return row!.id;
  });
};

const told = async () => {
  while ((await follow(world.ctx, NOTICES_FOLLOW)) > 0);
  return world.within((scope) => noticesFor(scope, mira));
};

it('tells the owner who wrote and who was given to them, a line each; keywords and STOP need nobody', async () => {
  const [ana, bo] = [await person(1), await person(2)];
  for (const id of [ana, bo])
    await world.within((scope) => editPerson(world.ctx, scope, id, 'owner', mira, 'test'));
  await world.texts(phone(1), 'Is there parking?');
  await world.texts(phone(1), 'And how late?');
  await world.texts(phone(2), 'stop');
  const lines = (await told()).map(({ person_id: id, kind, times, words }) => ({ id, kind, times, words }));
  expect(lines).toHaveLength(3);
  expect(lines).toEqual(
    expect.arrayContaining([
      { id: ana, kind: 'reply.received', times: 2, words: 'And how late?' },
      { id: ana, kind: 'owner.changed', times: 1, words: null },
      { id: bo, kind: 'owner.changed', times: 1, words: null },
    ]),
  );
});

it('is over once they have seen it, for one person or for all', async () => {
  const [ana, bo] = [await person(1), await person(2)];
  for (const id of [ana, bo])
    await world.within((scope) => editPerson(world.ctx, scope, id, 'owner', mira, 'test'));
  expect(await told()).toHaveLength(2);
  await world.within((scope) => markNoticesRead(world.ctx, scope, mira, ana));
  expect((await told()).map(({ person_id: id }) => id)).toEqual([bo]);
  await world.within((scope) => markNoticesRead(world.ctx, scope, mira, null));
  expect(await told()).toEqual([]);
});

it('says nothing of people who are nobody’s', async () => {
  await person(1);
  await world.texts(phone(1), 'Is there parking?');
  expect(await told()).toEqual([]);
});
