import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { addField, archiveField, changeField, moveOne, ownFields } from './own-fields';
import { addPerson, editField, must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);
const add = (number: string, more: object = {}) => addPerson(world, number, more);
const edit = (id: string, field: string, value: string) => editField(world, id, field, value);

describe('own fields', () => {
  it('are renamed, ordered and put away without loss', async () => {
    const make = (label: string) =>
      world.within(async (scope) => must(await addField(world.ctx, scope, { label, kind: 'text' }, 'test')));
    const planet = await make('Planet');
    await make('Moon');
    const ana = await add('3035550101');
    must(await edit(ana, 'own.planet', ' Saturn '));
    must(
      await world.within((scope) =>
        changeField(world.ctx, scope, planet.id, { label: 'Favourite planet' }, 'test'),
      ),
    );
    await world.within((scope) => moveOne(scope, 'field', planet.id, false));
    const labels = () => world.within(async (scope) => (await ownFields(scope)).map(({ label }) => label));
    expect(await labels()).toEqual(['Moon', 'Favourite planet']);
    must(await world.within((scope) => archiveField(world.ctx, scope, planet.id, true, 'test')));
    expect(await labels()).toEqual(['Moon']);
    expect(await edit(ana, 'own.planet', 'Mars')).toMatchObject({ ok: false });
    must(await world.within((scope) => archiveField(world.ctx, scope, planet.id, false, 'test')));
    expect(await rows(`select fields from person where workspace_id = :workspace`)).toEqual([
      { fields: { planet: 'Saturn' } },
    ]);
    expect(
      await world.within((scope) => addField(world.ctx, scope, { label: 'MOON', kind: 'text' }, 'test')),
    ).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    expect(
      await world.within((scope) => addField(world.ctx, scope, { label: 'X', kind: 'one-of' }, 'test')),
    ).toMatchObject({ ok: false, reason: { problems: [{ field: 'options' }] } });
  });
});
