import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { addStage, removeStage, renameStage } from './stages';
import { addPerson, editField, must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());
const add = (number: string, more: object = {}) => addPerson(world, number, more);
const edit = (id: string, field: string, value: string) => editField(world, id, field, value);

describe('stages', () => {
  it('stages go only when nobody is in them', async () => {
    const stage = must(await world.within((scope) => addStage(world.ctx, scope, 'Curious', 'test')));
    const ana = await add('3035550101');
    must(await edit(ana, 'stage', stage.id));
    expect(await world.within((scope) => removeStage(world.ctx, scope, stage.id, 'test'))).toMatchObject({
      ok: false,
      reason: { code: 'conflict' },
    });
    must(await edit(ana, 'stage', ''));
    must(await world.within((scope) => renameStage(world.ctx, scope, stage.id, 'Keen', 'test')));
    expect((await world.within((scope) => removeStage(world.ctx, scope, stage.id, 'test'))).ok).toBe(true);
  });
});
