import { afterEach, beforeEach, expect, it } from 'vitest';
import { DAY } from '@/core/shared/instant';
import { addAccount } from '@/services/access/create-workspace';
import { erasePeople } from '@/services/people/erase-person';
import { addPerson } from '@/services/testing/people';
import { makeWorld, phone, type World } from '@/services/testing/world';
import {
  dropUnfinished,
  forgetUnfinished,
  keepUnfinished,
  LARGEST_UNFINISHED,
  readUnfinished,
} from './unfinished';

let world: World;
const accounts: string[] = [];
beforeEach(async () => {
  world = await makeWorld();
  for (const name of ['tess', 'odile'])
    accounts[name === 'tess' ? 0 : 1] = await addAccount(world.ctx, world.workspaceId, {
      ...{ email: `${name}${world.workspaceId}@example.org`, name, password: 'x', role: 'teammate' },
    });
});
afterEach(() => world.close());

const keep = (content: string, who = 0, place = 'broadcast:new') =>
  world.within((scope) =>
    keepUnfinished(scope, { accountId: accounts[who]!, place }, content, new Date(world.clock.at)),
  );
const read = async (who = 0, place = 'broadcast:new') =>
  (await world.within((scope) => readUnfinished(scope, { accountId: accounts[who]!, place })))?.content ??
  null;

it('keeps the last word of each teammate for each place, until it is dropped', async () => {
  await keep('{"body":"Cle"}');
  await keep('{"body":"Clear \\u0000 tonight"}');
  await keep('{"body":"Mine"}', 1);
  expect(await read()).toBe('{"body":"Clear \\u0000 tonight"}');
  expect(await read(1)).toBe('{"body":"Mine"}');
  expect(await read(0, 'answer:per_1')).toBeNull();
  await world.within((scope) => dropUnfinished(scope, { accountId: accounts[0]!, place: 'broadcast:new' }));
  expect(await read()).toBeNull();
  expect(await read(1)).toBe('{"body":"Mine"}');
});

it.each(['', 'elsewhere:1', 'answer:../x', `answer:${'x'.repeat(201)}`])(
  'keeps nothing at %s',
  async (place) => expect(await keep('{}', 0, place)).toMatchObject({ ok: false }),
);

it('keeps nothing endless', async () =>
  expect(await keep('x'.repeat(LARGEST_UNFINISHED + 1))).toMatchObject({ ok: false }));

it('forgets what nobody goes on with, and what was written to whoever is erased', async () => {
  const person = await addPerson(world, phone(0));
  await keep('{"body":"Hi Ana"}', 0, `answer:${person}`);
  await keep('{"body":"old"}');
  await world.within((scope) => erasePeople(world.ctx, scope, [person], 'test'));
  expect(await read(0, `answer:${person}`)).toBeNull();
  expect(await read()).toBe('{"body":"old"}');
  world.clock.at += 61 * DAY;
  await forgetUnfinished(world.ctx);
  expect(await read()).toBeNull();
});
