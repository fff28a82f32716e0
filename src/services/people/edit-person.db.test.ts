import { afterEach, beforeEach, describe, expect, it } from 'vitest';
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

describe('a person', () => {
  it.each<[string, string, string | null]>([
    ['first_name', ' Ana ', 'Ana'],
    ['first_name', '', null],
    ['region', 'co', 'CO'],
    ['zone', 'America/Denver', 'America/Denver'],
    ['postal_code', '81201-1234', '81201-1234'],
  ])('is edited: %s to %j', async (field, value, stored) => {
    const ana = await add('3035550101', { first_name: 'X' });
    must(await edit(ana, field, value));
    expect(await rows(`select ${field} as value from person where workspace_id = :workspace`)).toEqual([
      { value: stored },
    ]);
    expect(
      await rows(
        `select detail ->> 'after' as after from audit_entry where workspace_id = :workspace and action = 'person.edited'`,
      ),
    ).toEqual([{ after: stored }]);
  });

  it.each([
    ['email', 'ana(at)example.org'],
    ['region', 'ZZ'],
    ['postal_code', 'x'],
    ['zone', 'Mars/Olympus'],
    ['stage', 'stg_x'],
    ['owner', 'acc_x'],
    ['own.gone', 'x'],
    ['number', '+13035550199'],
    ['first_name', 'x'.repeat(121)],
  ])('is not edited: %s to %s', async (field, value) => {
    const ana = await add('3035550101');
    expect((await edit(ana, field, value)).ok).toBe(false);
    expect(await edit('per_elsewhere', field, value)).toMatchObject({
      ok: false,
      reason: { code: 'not-found' },
    });
  });

  it('moves place and zones with the address', async () => {
    const ana = await add('3035550101');
    must(await edit(ana, 'region', 'NY'));
    expect(
      await rows(`select place_region, place_zones from person where workspace_id = :workspace`),
    ).toEqual([{ place_region: 'NY', place_zones: ['America/New_York'] }]);
  });
});
