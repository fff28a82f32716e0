import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { EVERYBODY, type Condition } from '@/core/audience/condition';
import { addAccount } from '@/services/access/create-workspace';
import { addField } from '@/services/audience/own-fields';
import { readPeopleScreen, saveColumns } from './people-screen';
import { readPeopleTable } from './people-table';
import { addStage } from './stages';
import { addPerson, editField, must, pageThrough } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);
const add = (number: string, more: object = {}) => addPerson(world, number, more);
const edit = (id: string, field: string, value: string) => editField(world, id, field, value);
const page = (sort: string, most?: number, condition?: Condition, search?: string) =>
  pageThrough(world, sort, most, condition, search);

describe('the table of people', () => {
  it('is sorted by any column, empty ones last either way, and pages agree with the whole', async () => {
    const ana = await add('3035550101', {
      first_name: 'ana',
      email: 'z@example.org',
      fields: { visits: '9' },
    });
    const ben = await add('7205550102', { first_name: 'Ben', fields: { visits: '10' } });
    await add('4805550103', { first_name: 'Cy', email: 'A@example.org' });
    await add('2125550104');
    must(
      await world.within((scope) => addField(world.ctx, scope, { label: 'Visits', kind: 'number' }, 'test')),
    );
    const [one, two] = [
      must(await world.within((scope) => addStage(world.ctx, scope, 'Zero', 'test'))),
      must(await world.within((scope) => addStage(world.ctx, scope, 'Alpha', 'test'))),
    ];
    must(await edit(ana, 'stage', two.id));
    must(await edit(ben, 'stage', one.id));
    await rows(
      `insert into last_text (person_id, workspace_id, at) values (:ana, :workspace, now()), (:ben, :workspace, now() - interval '1 day') returning 1`,
      { ana, ben },
    );
    const NOBODY = '+12125550104';
    expect(await page('name')).toEqual(['ana', 'Ben', 'Cy', NOBODY]);
    expect(await page('-name')).toEqual(['Cy', 'Ben', 'ana', NOBODY]);
    expect(await page('')).toEqual([NOBODY, 'Cy', 'Ben', 'ana']);
    expect(await page('email')).toEqual(['Cy', 'ana', 'Ben', NOBODY]);
    expect(await page('own.visits')).toEqual(['ana', 'Ben', 'Cy', NOBODY]);
    expect(await page('-own.visits')).toEqual(['Ben', 'ana', 'Cy', NOBODY]);
    expect(await page('stage')).toEqual(['Ben', 'ana', 'Cy', NOBODY]);
    expect(await page('-last_text')).toEqual(['ana', 'Ben', 'Cy', NOBODY]);
    expect(await page('number')).toEqual([NOBODY, 'ana', 'Cy', 'Ben']);
    for (const sort of [
      'name',
      '-name',
      'email',
      '-own.visits',
      'stage',
      '-stage',
      'last_text',
      '-last_text',
      'place',
      '-added',
      'owner',
      'last_reply',
      'source',
      'line_type',
    ])
      for (const most of [1, 2, 3]) expect(await page(sort, most)).toEqual(await page(sort));
  });

  it.each(['tags', 'programs', 'shoe_size', 'own.gone', 'p.id; drop table person'])(
    'is not put in order of %s',
    async (sort) => {
      expect(
        await world.within((scope) =>
          readPeopleTable(scope, { condition: EVERYBODY, search: '', sort, after: '' }, 0),
        ),
      ).toMatchObject({ ok: false, reason: { problems: [{ field: 'sort' }] } });
    },
  );

  it.each([
    'nonsense',
    Buffer.from('[1,2]').toString('base64url'),
    Buffer.from('["a\\u0000","b"]').toString('base64url'),
  ])('does not go on from %s', async (after) => {
    expect(
      await world.within((scope) =>
        readPeopleTable(scope, { condition: EVERYBODY, search: '', sort: '', after }, 0),
      ),
    ).toMatchObject({ ok: false, reason: { problems: [{ field: 'after' }] } });
  });

  it('keeps columns for each account', async () => {
    const me = await addAccount(world.ctx, world.workspaceId, {
      email: 'a@example.org',
      name: 'A',
      password: 'x',
      role: 'manager',
    });
    const read = () =>
      world.within((scope) =>
        readPeopleScreen(scope, me, world.clock.at, { cut: '{broken', segment: '', search: '', sort: '' }),
      );
    expect((await read()).start.condition).toEqual(EVERYBODY);
    await world.within((scope) => saveColumns(scope, me, ['email', 'stage']));
    expect((await read()).chosen).toEqual(['email', 'stage']);
  });
});
