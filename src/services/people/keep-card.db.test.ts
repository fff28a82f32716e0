import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { keepCard } from './keep-card';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);

describe('a card', () => {
  it('scanned twice is updated, and gets the tags both times', async () => {
    const keep = (first: string, tags: string[]) =>
      world.within(async (scope) =>
        must(await keepCard(world.ctx, scope, { number: '+13035550101', first_name: first }, tags, 'test')),
      );
    const one = await keep('Ana', ['fair']);
    const two = await keep('Anna', ['fair', 'walks']);
    expect([one.added, two.added, one.id === two.id]).toEqual([true, false, true]);
    expect(
      await rows(
        `select first_name, (select count(*)::int from person_label where person_id = person.id) as tags from person where workspace_id = :workspace`,
      ),
    ).toEqual([{ first_name: 'Anna', tags: 2 }]);
  });
});
