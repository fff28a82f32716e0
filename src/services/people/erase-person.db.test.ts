import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Condition } from '@/core/audience/condition';
import { erasePerson } from './erase-person';
import { addPerson, pageThrough } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const add = (number: string, more: object = {}) => addPerson(world, number, more);

const page = (sort: string, most?: number, condition?: Condition, search?: string) =>
  pageThrough(world, sort, most, condition, search);

describe('erasing', () => {
  it('erased twice is erased once', async () => {
    const ana = await add('3035550101', { first_name: 'Ana' });
    expect((await world.within((scope) => erasePerson(world.ctx, scope, ana, 'test'))).ok).toBe(true);
    expect(await world.within((scope) => erasePerson(world.ctx, scope, ana, 'test'))).toMatchObject({
      ok: false,
    });
    expect(await page('')).toEqual([]);
  });
});
