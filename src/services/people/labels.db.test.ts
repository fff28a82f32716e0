import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { findOrMakeLabel, renameLabel } from './labels';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

describe('tags', () => {
  it('a tag is one whatever its case, and is renamed for everybody', async () => {
    const make = (name: string) =>
      world.within((scope) => findOrMakeLabel(world.ctx, scope, 'tag', name, 'test'));
    const one = must(await make('Star  party'));
    expect(must(await make('STAR PARTY')).id).toBe(one.id);
    expect(await make('  ')).toMatchObject({ ok: false, reason: { problems: [{ field: 'tag' }] } });
    const other = must(await make('Walks'));
    expect(
      await world.within((scope) => renameLabel(world.ctx, scope, other.id, 'star party', 'test')),
    ).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    expect(
      must(await world.within((scope) => renameLabel(world.ctx, scope, other.id, 'Night walks', 'test')))
        .name,
    ).toBe('Night walks');
  });
});
