import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { checkConsent } from '@/services/consent/check-consent';
import { runImport } from '../imports';
import { shownRows } from '@/db/imports/import-rows';
import { erasePerson } from '@/services/people/erase-person';
import { createPerson } from '@/services/people/create-person';
import { FILE, ImportDesk, WORDING } from '@/services/testing/imports';
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

describe('running an import', () => {
  it('adds people with tags, a new field, the line type and consent with its evidence', async () => {
    const uploaded = await upload(FILE);
    const columns = [
      { to: 'first_name' },
      { to: 'number' },
      { to: 'new', label: 'Favourite planet', kind: 'text' as const },
    ];
    const done = await run(await check(uploaded, { columns, ...(await consent()) }));
    expect(done).toMatchObject({ state: 'finished', counts: { add: 3 } });
    expect(await people()).toMatchObject([
      {
        number: '+13035550101',
        first_name: 'Ana',
        line_type: 'mobile',
        fields: { favourite_planet: 'Mars' },
      },
      { number: '+13035550102', first_name: 'Ben', fields: { favourite_planet: 'Venus' } },
      { number: '+13035550199', first_name: 'Fix', line_type: 'landline' },
    ]);
    expect(
      await rows(
        `select l.name, count(*)::int as n from person_label x join label l on l.id = x.label_id where x.workspace_id = :workspace group by 1`,
      ),
    ).toEqual([{ name: 'Fair', n: 3 }]);
    expect(await rows(`select key, label, kind from field where workspace_id = :workspace`)).toEqual([
      { key: 'favourite_planet', label: 'Favourite planet', kind: 'text' },
    ]);
    const [event] = await rows<{ method: string; evidence: object }>(
      `select method, evidence from consent_event where workspace_id = :workspace order by seq limit 1`,
    );
    expect(event).toMatchObject({
      method: 'import',
      evidence: { wording: WORDING, obtainedAt: '2026-11-20', importId: done.id },
    });
    expect(await checkConsent(world.ctx, world.workspaceId)).toMatchObject({ differences: [] });
  });

  it('never turns on who opted out, and does not touch them', async () => {
    await world.texts('+13035550101', 'sky');
    await world.texts('+13035550101', 'STOP');
    const done = await run(await check(await upload(FILE), await consent()));
    expect(done.counts).toMatchObject({ add: 2, 'opted-out': 1 });
    expect(await state('+13035550101')).toBe('out');
    expect((await people())[0]).toMatchObject({ first_name: null });
  });

  it('does not turn on who opts out between the trial and the run', async () => {
    await world.texts('+13035550101', 'sky');
    const checked = await check(await upload(FILE), await consent());
    expect(checked.counts).toMatchObject({ update: 1 });
    await world.texts('+13035550101', 'STOP');
    const done = await run(checked);
    expect(done.counts).toMatchObject({ 'opted-out': 1 });
    expect(await state('+13035550101')).toBe('out');
  });

  it('does not bring back who asked to be erased', async () => {
    await world.texts('+13035550101', 'sky');
    const [id] = (await rows<{ id: string }>(`select id from person where workspace_id = :workspace`)).map(
      ({ id }) => id,
    );
    await world.within((scope) => erasePerson(world.ctx, scope, id!, 'test'));
    const done = await run(await check(await upload(FILE), await consent()));
    expect(done.counts).toMatchObject({ add: 2, 'opted-out': 1 });
    expect((await people()).map(({ number }) => number)).not.toContain('+13035550101');
  });

  it('updates field by field, or leaves who is here', async () => {
    const add = (first: string) =>
      world.within((scope) =>
        createPerson(
          world.ctx,
          scope,
          { number: '3035550101', first_name: first, last_name: 'Ortiz' },
          'test',
        ),
      );
    await add('Anna');
    const left = await check(await upload(FILE), { update: false });
    expect(left.counts).toMatchObject({ 'left-alone': 1 });
    const checked = await check(await upload(FILE));
    const [row] = await world.within((scope) => shownRows(scope, checked.id, 'update', 0, 10));
    expect(row!.changes).toEqual({ first_name: ['Anna', 'Ana'] });
    await run(checked);
    expect((await people())[0]).toMatchObject({ first_name: 'Ana', last_name: 'Ortiz' });
  });

  it('run twice at once adds nobody twice', async () => {
    const one = await check(await upload(FILE));
    const other = await check(await upload(FILE, 'the same.csv'));
    await world.within((scope) => runImport(world.ctx, scope, one.id, ME));
    await world.within((scope) => runImport(world.ctx, scope, other.id, ME));
    await Promise.all([work(), work(), work()]);
    await work();
    expect((await people()).length).toBe(3);
    const counts = [(await read(one.id)).counts, (await read(other.id)).counts];
    expect(counts.map(({ add = 0 }) => add).sort()).toEqual([0, 3]);
    expect(counts.map(({ same = 0 }) => same).sort()).toEqual([0, 3]);
  });

  it('goes on after the last whole slice when the process died, with nobody twice', async () => {
    const many = `Phone\n${Array.from({ length: 2_600 }, (_, i) => `+1${200 + Math.floor(i / 100)}5550${100 + (i % 100)}`.replace('+1211', '+1713')).join('\n')}`;
    const checked = await check(await upload(many));
    const total = checked.counts.add!;
    await world.within((scope) => runImport(world.ctx, scope, checked.id, ME));
    // The process dies in the second slice: everything of that slice is rolled back.
    let slices = 0;
    const dying = { ...world.ctx, now: () => (slices++ > 3 ? die() : world.clock.at) };
    const die = (): number => {
      throw new Error('killed');
    };
    await expect(work(dying)).rejects.toThrow('killed');
    expect((await people()).length).toBeLessThan(total);
    await work();
    expect(await read(checked.id)).toMatchObject({ state: 'finished', counts: { add: total } });
    expect((await people()).length).toBe(total);
  });

  it('commits its slices in order though they are written side by side, tags of the rows among them', async () => {
    const many = Array.from(
      { length: 5_000 },
      (_, i) =>
        `Person ${i},+1${300 + Math.floor(i / 100)}5550${100 + (i % 100)},${i % 2 ? 'odd' : 'even; half'}`,
    ).filter((line) => !/\+13(11|17|22|24|28|33|38|4[02-46-8]|45|49)/.test(line));
    const row = await upload(`Name,Phone,Tags\n${many.join('\n')}`);
    const checked = await check(row, await consent());
    const done = await run(checked);
    const added = checked.counts.add!;
    expect(added).toBeGreaterThan(2_500);
    expect(done).toMatchObject({ state: 'finished', counts: { add: added } });
    const [counts] = await rows<Record<string, number>>(
      `select (select count(*)::int from person where workspace_id = :workspace) as people,
              (select count(*)::int from consent_state where workspace_id = :workspace and state = 'in') as consents,
              (select count(*)::int from address where workspace_id = :workspace and line_type = 'landline') as landlines,
              (select count(distinct name)::int from label where workspace_id = :workspace) as labels,
              (select count(*)::int from person_label x join label l on l.id = x.label_id where x.workspace_id = :workspace and l.name in ('odd', 'even')) as tagged`,
    );
    const { landlines, ...others } = counts!;
    expect(landlines).toBeGreaterThan(0);
    // Nobody agrees to texts on a landline.
    expect(others).toEqual({ people: added, consents: added - landlines!, labels: 4, tagged: added });
  });
});
