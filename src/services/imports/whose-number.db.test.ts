import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { addAccount } from '@/services/access/create-workspace';
import { addStage } from '@/services/people/stages';
import { createSegment } from '@/services/audience/segments';
import { ImportDesk } from '@/services/testing/imports';
import { addPerson, must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import { chooseOtherNames, undoImport } from './imports';
import { readImport } from './screen';

const ME = { name: 'test', accountId: null };
const [ANA, BEN] = ['+13035550101', '+13035550102'];
let world: World;
const { upload, check, run, work, read, state, consent } = new ImportDesk(() => world);
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const names = () =>
  world.rows<{ first_name: string; last_name: string | null }>(
    `select first_name, last_name from person where workspace_id = :workspace order by number`,
  );
const choose = (id: string, line: number | null, choice: 'take' | 'leave') =>
  world.within((scope) => chooseOtherNames(world.ctx, scope, id, { line, choice }, ME));

describe('a number whose owner goes by another name', () => {
  const FILE = `First name,Last name,Phone\nMaria,Lopez,${ANA}\nCarl,Moor,${BEN}`;
  beforeEach(async () => {
    await addPerson(world, ANA, { first_name: 'Ana', last_name: 'Ortiz' });
    await addPerson(world, BEN, { first_name: 'Ben' });
  });

  it('is asked about, and left as it is where nobody says anything, consent and tags included', async () => {
    const checked = await check(await upload(FILE), await consent());
    expect(checked.counts).toMatchObject({ 'another-name': 2, findings: { 'another name': 2 } });
    const { rows } = (await world.within((scope) => readImport(scope, checked.id, 'another-name')))!;
    expect(rows.map(({ here, data }) => [here, data!.first_name])).toEqual([
      ['Ana Ortiz', 'Maria'],
      ['Ben', 'Carl'],
    ]);
    const done = await run(checked);
    expect(done.counts).toMatchObject({ 'left-alone': 2 });
    expect((await names()).map((one) => one.first_name)).toEqual(['Ana', 'Ben']);
    expect(await state(ANA)).toBeUndefined();
    expect(await world.rows(`select 1 from person_label where workspace_id = :workspace`)).toEqual([]);
  });

  it('is changed for one row, or for all, once somebody says that they are meant', async () => {
    const checked = await check(await upload(FILE));
    must(await choose(checked.id, 2, 'take'));
    await run(checked);
    expect((await names()).map((one) => one.first_name)).toEqual(['Maria', 'Ben']);
    const again = await check(await upload(FILE.replace('Maria,Lopez', 'Nora,Vale')));
    must(await choose(again.id, null, 'take'));
    must(await choose(again.id, 2, 'leave'));
    // What will be imported is counted over all rows, whichever of them are looked at.
    const shown = await world.within((scope) => readImport(scope, again.id, 'add'));
    expect([shown!.rows.length, shown!.meant]).toEqual([0, 1]);
    await run(again);
    expect((await names()).map((one) => one.first_name)).toEqual(['Maria', 'Carl']);
    expect(await choose(again.id, null, 'take')).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });
});

describe('what a file is for', () => {
  it('fills only what is empty where that is wanted, and goes back whole', async () => {
    await addPerson(world, ANA, { first_name: 'Ana', region: 'CO' });
    const file = `First name,Last name,State,Phone\nAnna,Ortiz,UT,${ANA}`;
    const done = await run(await check(await upload(file), { only_empty: true }));
    const person = () =>
      world.rows(`select first_name, last_name, region from person where workspace_id = :workspace`);
    expect(await person()).toEqual([{ first_name: 'Ana', last_name: 'Ortiz', region: 'CO' }]);
    must(await world.within((scope) => undoImport(world.ctx, scope, done.id, ME)));
    await work();
    expect((await read(done.id)).state).toBe('undone');
    expect(await person()).toEqual([{ first_name: 'Ana', last_name: null, region: 'CO' }]);
  });

  it('brings stage, owner, time zone and lists, and says what it does not know', async () => {
    const tess = await addAccount(world.ctx, world.workspaceId, {
      ...{ email: 'tess@example.org', name: 'Tess Nightjar', password: 'x', role: 'teammate' },
    });
    const stage = must(await world.within((scope) => addStage(world.ctx, scope, 'Regular', 'test')));
    const file = `Phone,Given,Stage,Owner,Time zone,Lists\n${ANA},Ana,regular,TESS@example.org,America/Denver,Open evening; Friends\n${BEN},Ben,Nowhere,Nobody,Mars/Base,`;
    const uploaded = await upload(file);
    expect(uploaded.mapping.map(({ to }) => to)).toEqual([
      'number',
      'first_name',
      'stage',
      'owner',
      'zone',
      'lists',
    ]);
    const done = await run(await check(uploaded));
    expect(
      await world.rows(
        `select first_name, stage_id, owner_id, zone, place_zones from person where workspace_id = :workspace order by number`,
      ),
    ).toMatchObject([
      {
        first_name: 'Ana',
        stage_id: stage.id,
        owner_id: tess,
        zone: 'America/Denver',
        place_zones: ['America/Denver'],
      },
      { first_name: 'Ben', stage_id: null, owner_id: null, zone: null },
    ]);
    const { rows } = (await world.within((scope) => readImport(scope, done.id, '')))!;
    for (const word of ['“Nowhere” is no stage', '“Nobody” is no teammate', '“Mars/Base” is no time zone'])
      expect(rows[1]!.told).toContain(word);
    expect(
      await world.rows(`select name from label where workspace_id = :workspace and kind = 'list' order by 1`),
    ).toEqual([{ name: 'Friends' }, { name: 'Open evening' }]);
    must(await world.within((scope) => undoImport(world.ctx, scope, done.id, ME)));
    await work();
    expect(await world.rows(`select 1 from person where workspace_id = :workspace`)).toEqual([]);
    expect(await world.rows(`select 1 from label where workspace_id = :workspace`)).toEqual([]);
  });

  it('leaves no field behind when it is undone, but for one that somebody uses by then', async () => {
    const columns = [
      { to: 'number' as const },
      { to: 'new' as const, label: 'Planet', kind: 'text' as const },
      { to: 'new' as const, label: 'Moon', kind: 'text' as const },
    ];
    const done = await run(await check(await upload(`Phone,A,B\n${ANA},Mars,Io`), { columns }));
    const condition = JSON.stringify({ all: [{ ask: 'field', field: 'own.moon', test: 'is', value: 'Io' }] });
    const accountId = await addAccount(world.ctx, world.workspaceId, {
      ...{ email: 'tess@example.org', name: 'Tess Nightjar', password: 'x', role: 'owner' },
    });
    must(
      await world.within((scope) =>
        createSegment(world.ctx, scope, { name: 'Io', condition } as never, { name: 'Tess', accountId }),
      ),
    );
    must(await world.within((scope) => undoImport(world.ctx, scope, done.id, ME)));
    await work();
    expect(await world.rows(`select key from field where workspace_id = :workspace`)).toEqual([
      { key: 'moon' },
    ]);
  });

  it('says what is lost of a row that is twice in it', async () => {
    const checked = await check(
      await upload(`Phone,First name,E-mail\n${ANA},Ana,\n${ANA},Anna,anna@example.org`),
    );
    const { rows } = (await world.within((scope) => readImport(scope, checked.id, 'duplicate')))!;
    expect(rows[0]!.told).toBe('the same number as row 2; left out with it: Anna, anna@example.org');
  });
});
