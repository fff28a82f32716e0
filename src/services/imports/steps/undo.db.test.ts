import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { checkConsent } from '@/services/consent/check-consent';
import { undoImport } from '../imports';
import { countMembers, programSources } from '@/db/programs/programs';
import { cameSums } from '@/db/results/keeping';
import { createPerson } from '@/services/people/create-person';
import { FILE, ImportDesk } from '@/services/testing/imports';
import { makeWorld, type World } from '@/services/testing/world';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new ImportDesk(() => world);
const { upload, check, run, read, work, people, state, consent } = desk;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);

describe('undoing an import', () => {
  it('is undone: who was added goes, changed values go back, consent lapses; what was touched since stays', async () => {
    await world.within((scope) =>
      createPerson(world.ctx, scope, { number: '3035550101', first_name: 'Anna' }, 'test'),
    );
    await world.within((scope) =>
      createPerson(world.ctx, scope, { number: '3035550103', first_name: 'Cy' }, 'test'),
    );
    const done = await run(await check(await upload(`${FILE}\nCyril,3035550103,`), await consent()));
    expect(done.counts).toMatchObject({ add: 2, update: 2 });
    await rows(
      `update person set first_name = 'Cyrus' where workspace_id = :workspace and number = '+13035550103' returning 1`,
    );
    await world.texts('+13035550102', 'hello');
    await world.within((scope) => undoImport(world.ctx, scope, done.id, ME));
    await work();
    expect(await read(done.id)).toMatchObject({ state: 'undone' });
    expect((await people()).map(({ number, first_name }) => [number, first_name])).toEqual([
      ['+13035550101', 'Anna'],
      ['+13035550102', 'Ben'],
      ['+13035550103', 'Cyrus'],
    ]);
    expect([await state('+13035550101'), await state('+13035550102')]).toEqual(['lapsed', 'in']);
    // The program's figures speak only of who came and stayed, on every page.
    const [program] = await world.within((scope) => countMembers(scope, { since: new Date(0) }));
    const sources = await world.within((scope) => programSources(scope, program!.id));
    expect([program!.members, program!.joined30, sources.map(({ joined }) => joined)]).toEqual([1, 1, [1]]);
    const came = await world.within((scope) => cameSums(scope, '2020-01-01', null));
    expect(came.map(({ n }) => n)).toEqual([1]);
    const undone = await rows<{ undone: string }>(
      `select undone from import_row where workspace_id = :workspace and undone is not null order by line`,
    );
    expect(undone.map((row) => row.undone.split(':')[0])).toEqual([
      'changed back',
      'kept',
      'deleted',
      'kept in part',
    ]);
    expect(await checkConsent(world.ctx, world.workspaceId)).toMatchObject({ differences: [] });
  });
});
