import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { LineLookup } from '@/gateways/lookup';
import { checkConsent } from '@/services/consent/check-consent';
import { advanceImports } from './engine';
import { createImport, checkImport, dropImport, runImport, stopImport, undoImport } from './imports';
import type { ImportInput } from './inputs';
import { importRow, shownRows, type ImportRow } from '@/db/imports/imports';
import { addField } from '@/services/audience/own-fields';
import { erasePerson } from '@/services/people/erase-person';
import { createPerson } from '@/services/people/create-person';
import { mergePeople } from '@/services/people/merge-people';
import { makeWorld, type World } from '@/services/testing/world';

const ME = { name: 'test', accountId: null };
const WORDING = 'I agree to get texts about the night sky.';
const LOOKUP: LineLookup = {
  lookUp: (numbers) =>
    Promise.resolve(
      new Map(numbers.map((number) => [number, number.endsWith('0199') ? 'landline' : 'mobile'])),
    ),
};

let world: World;
let programId: string;
beforeEach(async () => {
  world = await makeWorld();
  [programId] = (await ids(`select id from program where workspace_id = :workspace`)) as [string];
});
afterEach(() => world.close());

const ids = (sql: string): Promise<string[]> =>
  world.within(async (scope) => (await scope.rows<{ id: string }>(sql)).map(({ id }) => id));
const rows = <T extends object>(sql: string, values = {}) =>
  world.within((scope) => scope.rows<T>(sql, values));
const bytesOf = (text: string) =>
  (async function* () {
    yield new Uint8Array(Buffer.from(text));
  })();

async function upload(text: string, name = 'people.csv'): Promise<ImportRow> {
  const made = await world.within((scope) =>
    createImport(world.ctx, scope, { name, bytes: bytesOf(text) }, ME),
  );
  if (!made.ok) throw new Error(made.reason.problems[0]!.message);
  await work();
  return read(made.value.id);
}
const work = () => advanceImports(world.ctx, LOOKUP);
const read = async (id: string) => (await world.within((scope) => importRow(scope, id)))!;

async function check(row: ImportRow, more: Partial<ImportInput> = {}): Promise<ImportRow> {
  const columns = row.mapping.map(({ to, kind, order }) => ({
    to,
    ...(kind ? { kind } : {}),
    ...(order ? { order } : {}),
  }));
  const input = { name: row.name, columns, update: true, tags: ['Fair'], ...more } as ImportInput;
  const checked = await world.within((scope) => checkImport(world.ctx, scope, row.id, input, ME));
  if (!checked.ok) throw new Error(checked.reason.problems[0]!.message);
  await work();
  return read(row.id);
}

async function run(row: ImportRow): Promise<ImportRow> {
  const started = await world.within((scope) => runImport(world.ctx, scope, row.id, ME));
  if (!started.ok) throw new Error(started.reason.problems[0]!.message);
  await work();
  return read(row.id);
}

const CONSENT = () => ({ program: programId, consent_wording: WORDING, consent_date: '2026-11-20' });
const people = () =>
  rows<{ number: string; first_name: string | null; line_type: string; fields: object }>(
    `select number, first_name, last_name, line_type, fields from person where workspace_id = :workspace order by number`,
  );
const state = async (number: string) =>
  (
    await rows<{ state: string }>(
      `select c.state from consent_state c join person p on p.id = c.person_id where p.workspace_id = :workspace and p.number = :number`,
      { number },
    )
  )[0]?.state;

const FILE = `First name,Phone,Favourite planet
Ana,(303) 555-0101,Mars
Ben,3035550102.0,Venus
Ana again,303.555.0101,Mars
Nobody,none,Mars
Fix,303 555 0199,`;

describe('an import', () => {
  it('is tried first: what would become of every row, and nobody is changed', async () => {
    const checked = await check(await upload(FILE));
    expect(checked).toMatchObject({
      state: 'checked',
      rows: 5,
      counts: { add: 3, invalid: 1, duplicate: 1 },
    });
    expect(await people()).toEqual([]);
    const found = await world.within((scope) => shownRows(scope, checked.id, '', 0, 100));
    expect(found.map(({ line, reason, told }) => [line, reason, told])).toEqual([
      [2, 'no consent', null],
      [3, 'no consent', expect.stringContaining('.0')],
      [4, 'duplicate in file', expect.stringContaining('row 2')],
      [5, 'invalid', expect.stringContaining('“none”')],
      [6, 'landline', null],
    ]);
  });

  it('adds people with tags, a new field, the line type and consent with its evidence', async () => {
    const uploaded = await upload(FILE);
    const columns = [
      { to: 'first_name' },
      { to: 'number' },
      { to: 'new', label: 'Favourite planet', kind: 'text' as const },
    ];
    const done = await run(await check(uploaded, { columns, ...CONSENT() }));
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

  it('without attested consent makes nobody textable', async () => {
    await run(await check(await upload(FILE), { program: programId }));
    expect(await rows(`select 1 from consent_event where workspace_id = :workspace`)).toEqual([]);
  });

  it('never turns on who opted out, and does not touch them', async () => {
    await world.texts('+13035550101', 'sky');
    await world.texts('+13035550101', 'STOP');
    const done = await run(await check(await upload(FILE), CONSENT()));
    expect(done.counts).toMatchObject({ add: 2, 'opted-out': 1 });
    expect(await state('+13035550101')).toBe('out');
    expect((await people())[0]).toMatchObject({ first_name: null });
  });

  it('does not turn on who opts out between the trial and the run', async () => {
    await world.texts('+13035550101', 'sky');
    const checked = await check(await upload(FILE), CONSENT());
    expect(checked.counts).toMatchObject({ update: 1 });
    await world.texts('+13035550101', 'STOP');
    const done = await run(checked);
    expect(done.counts).toMatchObject({ 'opted-out': 1 });
    expect(await state('+13035550101')).toBe('out');
  });

  it('does not bring back who asked to be erased', async () => {
    await world.texts('+13035550101', 'sky');
    const [id] = await ids(`select id from person where workspace_id = :workspace`);
    await world.within((scope) => erasePerson(world.ctx, scope, id!, 'test'));
    const done = await run(await check(await upload(FILE), CONSENT()));
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

  it('is undone: who was added goes, changed values go back, consent lapses; what was touched since stays', async () => {
    await world.within((scope) =>
      createPerson(world.ctx, scope, { number: '3035550101', first_name: 'Anna' }, 'test'),
    );
    await world.within((scope) =>
      createPerson(world.ctx, scope, { number: '3035550103', first_name: 'Cy' }, 'test'),
    );
    const done = await run(await check(await upload(`${FILE}\nCyril,3035550103,`), CONSENT()));
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
    await expect(advanceImports(dying, LOOKUP)).rejects.toThrow('killed');
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
    const checked = await check(row, CONSENT());
    const done = await run(checked);
    const added = checked.counts.add!;
    expect(added).toBeGreaterThan(2_500);
    expect(done).toMatchObject({ state: 'finished', counts: { add: added } });
    const [counts] = await rows<Record<string, number>>(
      `select (select count(*)::int from person where workspace_id = :workspace) as people,
              (select count(*)::int from consent_state where workspace_id = :workspace and state = 'in') as consents,
              (select count(distinct name)::int from label where workspace_id = :workspace) as labels,
              (select count(*)::int from person_label x join label l on l.id = x.label_id where x.workspace_id = :workspace and l.name in ('odd', 'even')) as tagged`,
    );
    expect(counts).toEqual({ people: added, consents: added, labels: 4, tagged: added });
  });

  it('takes two numbers of one person who was merged for one, and says so', async () => {
    const [kept, gone] = ['3035550101', '3035550102'];
    await check(await upload(`Phone\n${kept}\n${gone}`)).then(run);
    const [one, other] = await ids(`select id from person where workspace_id = :workspace order by number`);
    await world.within((scope) => mergePeople(world.ctx, scope, one!, other!, {}, ME));
    const between = Array.from({ length: 2_100 }, (_, i) => `x,${i}`).join('\n');
    for (const rest of ['', `${between}\n`]) {
      const row = await check(await upload(`First name,Phone\nAna,${kept}\n${rest}Anna,${gone}`));
      expect(row.counts).toMatchObject({ duplicate: 1 });
      const [told] = await rows<{ told: string }>(
        `select told from import_row where workspace_id = :workspace and import_id = :id and verdict = 'duplicate'`,
        { id: row.id },
      );
      expect(told!.told).toBe('the same person as row 2, by another address of theirs');
      expect((await run(row)).state).toBe('finished');
      expect(
        await rows(`select first_name from person where workspace_id = :workspace and merged_into is null`),
      ).toEqual([{ first_name: 'Ana' }]);
    }
  });

  it('can be stopped before it begins, and thrown away before it ran', async () => {
    const checked = await check(await upload(FILE));
    const started = await world.within((scope) => runImport(world.ctx, scope, checked.id, ME));
    expect(started.ok).toBe(true);
    await world.within((scope) => stopImport(world.ctx, scope, checked.id, ME));
    await work();
    expect(await people()).toEqual([]);
    expect(await world.within((scope) => dropImport(world.ctx, scope, checked.id, ME))).toMatchObject({
      ok: false,
      reason: { code: 'conflict' },
    });
    const other = await upload(FILE);
    expect(await world.within((scope) => dropImport(world.ctx, scope, other.id, ME))).toMatchObject({
      ok: true,
    });
    expect(await read(other.id)).toBeNull();
  });

  it('keeps nothing of an upload that breaks off', async () => {
    const broken = (async function* () {
      yield new Uint8Array(Buffer.from('Phone\n3035'));
      throw new Error('connection lost');
    })();
    await expect(
      world.within((scope) => createImport(world.ctx, scope, { name: 'x.csv', bytes: broken }, ME)),
    ).rejects.toThrow('connection lost');
    expect(await rows(`select 1 from import where workspace_id = :workspace`)).toEqual([]);
    expect(await rows(`select 1 from import_chunk where workspace_id = :workspace`)).toEqual([]);
  });

  it('with a cell of fifty megabytes is refused with a sentence, and the next import goes on', async () => {
    const before = process.memoryUsage().rss;
    const bytes = (async function* () {
      yield new Uint8Array(Buffer.from('Name,Phone\n"'));
      const megabyte = new Uint8Array(1_048_576).fill(120);
      for (let i = 0; i < 50; i++) yield megabyte;
      yield new Uint8Array(Buffer.from('",3035550101\n'));
    })();
    const made = await world.within((scope) =>
      createImport(world.ctx, scope, { name: 'cell.csv', bytes }, ME),
    );
    await work();
    const row = await read(made.ok ? made.value.id : '');
    expect(row).toMatchObject({
      state: 'failed',
      problem: expect.stringMatching(/row|cell|quotation/) as string,
    });
    // Read piece by piece and given up at the first million characters: never held whole several times over.
    expect(process.memoryUsage().rss - before).toBeLessThan(500e6);
    expect((await upload(FILE)).state).toBe('draft');
  });

  it.each<[string, string, RegExp]>([
    ['nothing', '', /empty/],
    ['an old document', '{\\rtf1 hello', /rich text/],
    ['a PDF', '%PDF-1.7 hello', /PDF/],
  ])('refuses %s at once', async (_, text, message) => {
    const made = await world.within((scope) =>
      createImport(world.ctx, scope, { name: 'people.csv', bytes: bytesOf(text) }, ME),
    );
    expect(made).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'file', message: expect.stringMatching(message) as string }] },
    });
  });

  it.each<[string, string, RegExp]>([
    ['only a header', 'Name,Phone\n', /header and no rows/],
    ['only empty lines', '\n\n\n', /no rows/],
    ['a quotation mark that is not closed', `Name,Phone\n"${'x'.repeat(1_100_000)}`, /quotation mark/],
  ])('that holds %s says so, and can be thrown away', async (_, text, message) => {
    const row = await upload(text);
    expect(row).toMatchObject({ state: 'failed', problem: expect.stringMatching(message) as string });
    expect(await world.within((scope) => dropImport(world.ctx, scope, row.id, ME))).toMatchObject({
      ok: true,
    });
  });

  it.each<[string, Partial<ImportInput> & { date?: true }, string]>([
    ['no column with numbers', { columns: [{ to: 'skip' }, { to: 'skip' }, { to: 'skip' }] }, 'number'],
    [
      'dates nothing decides',
      { columns: [{ to: 'skip' }, { to: 'number' }, { to: 'new', label: 'Seen', kind: 'date' }] },
      'mapping',
    ],
    [
      'a field that is not here',
      { columns: [{ to: 'first_name' }, { to: 'number' }, { to: 'own.gone' }] },
      'mapping',
    ],
    ['consent to no program', { consent_wording: WORDING, consent_date: '2026-11-20' }, 'program'],
    ['a program of somebody else', { program: 'prg_other' }, 'program'],
  ])('asks again about %s', async (_, more, field) => {
    const row = await upload('Name,Phone,Seen\nAna,3035550101,03/04/2026');
    const input = { name: 'x', columns: row.mapping.map(({ to }) => ({ to })), ...more } as ImportInput;
    expect(await world.within((scope) => checkImport(world.ctx, scope, row.id, input, ME))).toMatchObject({
      ok: false,
      reason: { problems: [{ field }] },
    });
    expect((await read(row.id)).state).toBe('draft');
  });

  it('asks for the day of consent, and none in the future', async () => {
    const row = await upload(FILE);
    for (const consent_date of [undefined, '2026-02-31', '2027-01-01']) {
      const input = {
        name: 'x',
        columns: row.mapping.map(({ to }) => ({ to })),
        program: programId,
        consent_wording: WORDING,
        ...(consent_date ? { consent_date } : {}),
      } as ImportInput;
      expect(await world.within((scope) => checkImport(world.ctx, scope, row.id, input, ME))).toMatchObject({
        ok: false,
        reason: { problems: [{ field: 'consent_date' }] },
      });
    }
  });

  it('reads own fields by name, and leaves the value out that does not fit', async () => {
    await world.within((scope) => addField(world.ctx, scope, { label: 'Visits', kind: 'number' }, 'test'));
    const checked = await check(await upload('Phone,Visits\n3035550101,3\n3035550102,many'));
    expect(checked.mapping.map(({ to }) => to)).toEqual(['number', 'own.visits']);
    await run(checked);
    expect((await people()).map(({ fields }) => fields)).toEqual([{ visits: '3' }, {}]);
  });

  it('of another workspace is not there', async () => {
    const row = await upload(FILE);
    expect(await world.within((scope) => importRow(scope, row.id), 'another')).toBeNull();
    expect(await world.within((scope) => runImport(world.ctx, scope, row.id, ME), 'another')).toMatchObject({
      ok: false,
      reason: { code: 'not-found' },
    });
  });
});
