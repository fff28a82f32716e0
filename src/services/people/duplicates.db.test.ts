import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { dismissPair, findPairs, readDuplicates, searchDuplicates, startSearch } from './duplicates';
import { addPerson, must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);
const add = (number: string, more: object = {}) => addPerson(world, number, more);

describe('duplicates', () => {
  it('are found by number in other dress, e-mail, and like names with one postal code; not by what many share', async () => {
    const at = { postal_code: '80202' };
    const ida = await add('7205550172', { first_name: 'Ida', last_name: 'Ferncliff', ...at });
    const ide = await add('7205550173', { first_name: 'Ida', last_name: 'Fernclif', ...at });
    const one = await add('7205550174', { email: 'Perrin@example.org' });
    const two = await add('7205550175', { email: 'perrin@example.org' });
    await add('7205550177', { first_name: 'Ida', last_name: 'Fernandez', ...at });
    await rows(
      `update person set number = '+527205550174' where workspace_id = :workspace and number = '+17205550177' returning 1`,
    );
    for (let i = 0; i < 14; i++) await add(`30355501${String(10 + i)}`, { email: 'desk@example.org' });
    await world.within((scope) => startSearch(world.ctx, scope));
    expect(await searchDuplicates(world.ctx)).toBe(true);
    expect(await searchDuplicates(world.ctx)).toBe(false);
    const { pairs, search } = await world.within(readDuplicates);
    expect(search).toMatchObject({ state: 'finished', pairs: 3 });
    const found = pairs.map(({ one_id, other_id, reasons }) => [one_id, other_id, reasons.join()]);
    expect(found).toContainEqual([ida, ide, 'name and postal code']);
    expect(found).toContainEqual([one, two, 'e-mail']);
    expect(found.filter(([, , reasons]) => reasons === 'number')).toHaveLength(1);
    must(await world.within((scope) => dismissPair(world.ctx, scope, ide, ida, 'test')));
    await world.within((scope) => findPairs(world.ctx, scope));
    expect((await world.within(readDuplicates)).pairs).toHaveLength(2);
  });
});
