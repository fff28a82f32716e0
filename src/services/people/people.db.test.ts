import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { EVERYBODY, type Condition } from '@/core/audience/condition';
import { parseCondition } from '@/core/audience/parse';
import { audienceContext, readAudience, readSteps } from '@/services/audience/audience';
import { checkConsent } from '@/services/consent/check-consent';
import { createBroadcast } from '@/services/sends/broadcasts';
import { createPerson } from './create-person';
import { addAccount } from '@/services/access/create-workspace';
import { dismissPair, findPairs, readDuplicates, searchDuplicates, startSearch } from './duplicates';
import { editPerson } from './edit-person';
import { erasePerson } from './erase-person';
import { exportPeople, exportPerson } from './export-people';
import { keepCard } from './keep-card';
import { findOrMakeLabel, renameLabel, setLabel } from './labels';
import { mergePeople, readMerge } from './merge-people';
import { undoMerge } from './undo-merge';
import { addField, archiveField, changeField, moveOne, ownFields } from '@/services/audience/own-fields';
import { readPeopleScreen, saveColumns } from './people-screen';
import { readPeopleTable } from './people-table';
import {
  changeSegment,
  copySegment,
  createSegment,
  deleteSegment,
  saveSegment,
  visibleSegments,
} from '@/services/audience/segments';
import { addStage, removeStage, renameStage } from './stages';
import { makeWorld, type World } from '@/services/testing/world';

const API = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows = <T extends object>(sql: string, values = {}) =>
  world.within((scope) => scope.rows<T>(sql, values));
async function add(number: string, more: object = {}): Promise<string> {
  const made = await world.within((scope) => createPerson(world.ctx, scope, { number, ...more }, 'test'));
  if (!made.ok) throw new Error(made.reason.problems[0]!.message);
  world.clock.at += 1_000;
  return made.value.id;
}
const must = <T>(
  result: { ok: true; value: T } | { ok: false; reason: { problems: { message: string }[] } },
): T => {
  if (!result.ok) throw new Error(result.reason.problems[0]!.message);
  return result.value;
};
const edit = (id: string, field: string, value: string) =>
  world.within((scope) => editPerson(world.ctx, scope, id, field, value, 'test'));
const page = async (sort: string, most = 100, condition: Condition = EVERYBODY, search = '') => {
  const all: string[] = [];
  for (let after: string | null = ''; after !== null;) {
    const from: string = after;
    const result = await world.within((scope) =>
      readPeopleTable(scope, { condition, search, sort, after: from }, world.clock.at, most),
    );
    if (!result.ok) throw new Error(result.reason.problems[0]!.field);
    all.push(...result.value.rows.map((row) => row.first_name ?? row.number ?? ''));
    after = result.value.next;
  }
  return all;
};

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

describe('who is meant', () => {
  it('is counted after each branch, in words, for all, any and none', async () => {
    for (const [i, name] of ['Ana', 'Ben', 'Ben', 'Cy'].entries())
      await add(`303555010${i}`, { first_name: name });
    await world.texts('+13035550101', 'sky');
    const name = (value: string): Condition => ({ ask: 'field', field: 'first_name', test: 'is', value });
    const wrote: Condition = { ask: 'field', field: 'last_reply', test: 'not-empty' };
    const ask = async (condition: Condition) =>
      await world.within(async (scope) => ({
        ...must(await readAudience(scope, condition, '', world.clock.at)),
        ...must(await readSteps(scope, condition, '', world.clock.at)),
      }));
    const all = await ask({ all: [name('Ben'), wrote, name('Cy')] });
    expect([all.everybody, all.count, all.steps.map(({ count }) => count)]).toEqual([4, 0, [2, 1, 0]]);
    expect(all.problems).toMatchObject([{ message: expect.stringContaining('contradict') as string }]);
    const any = await ask({ any: [name('Ana'), name('Ben'), wrote] });
    expect([any.count, any.steps.map(({ count }) => count)]).toEqual([3, [1, 3, 3]]);
    const none = await ask({ none: [name('Ana'), name('Ben')] });
    expect([none.count, none.steps.map(({ count }) => count)]).toEqual([1, [3, 1]]);
    expect((await ask(EVERYBODY)).count).toBe(4);
    expect((await ask({ any: [] })).count).toBe(0);
    // Each count opens to exactly those people.
    for (const step of all.steps) expect((await ask(step.condition)).count).toBe(step.count);
    expect((await page('', 100, { all: [name('Ben')] }, '0102')).length).toBe(1);
  });

  it('reads every built-in field and thing of the workspace', async () => {
    const context = await world.within((scope) => audienceContext(scope, world.clock.at));
    for (const field of context.fields.values()) {
      const condition: Condition = { ask: 'field', field: field.name, test: 'not-empty' };
      expect((await world.within((scope) => readAudience(scope, condition, '', world.clock.at))).ok).toBe(
        true,
      );
    }
  });
});

describe('segments', () => {
  const cut = JSON.stringify({ all: [{ ask: 'field', field: 'first_name', test: 'is', value: 'Ana' }] });
  const accounts = async () => {
    const one = await addAccount(world.ctx, world.workspaceId, {
      email: 'a@example.org',
      name: 'A',
      password: 'x',
      role: 'manager',
    });
    const two = await addAccount(world.ctx, world.workspaceId, {
      email: 'b@example.org',
      name: 'B',
      password: 'x',
      role: 'manager',
    });
    return [
      { name: one, accountId: one },
      { name: two, accountId: two },
    ] as const;
  };
  const make = (name: string, actor: { name: string; accountId: string | null }, condition = cut) =>
    world.within(async (scope) => must(await createSegment(world.ctx, scope, { name, condition }, actor)));
  const names = (accountId: string) =>
    world.within(async (scope) => (await visibleSegments(scope, accountId)).map(({ name }) => name));

  it('are one’s own until they are shared, with some or all; pinned ones stand first, the others in their order', async () => {
    const [me, other] = await accounts();
    const first = await make('First', me);
    const second = await make('Second', me);
    expect(await names(other.accountId)).toEqual([]);
    const change = (id: string, verb: Parameters<typeof changeSegment>[3], actor = me) =>
      world.within((scope) => changeSegment(world.ctx, scope, id, verb, actor));
    must(
      await change(first.id, { verb: 'share', shared: 'some', accounts: [other.accountId, 'acc_elsewhere'] }),
    );
    must(await change(second.id, { verb: 'share', shared: 'all', accounts: [] }));
    expect(await names(other.accountId)).toEqual(['First', 'Second']);
    expect(await change(first.id, { verb: 'share', shared: 'all', accounts: [] }, other)).toMatchObject({
      ok: false,
    });
    must(await change(second.id, { verb: 'move', up: true }));
    expect(await names(me.accountId)).toEqual(['Second', 'First']);
    must(await change(first.id, { verb: 'pin', on: true }));
    expect(await names(me.accountId)).toEqual(['First', 'Second']);
    must(await change(first.id, { verb: 'rename', name: 'Primero' }));
    expect(await change(first.id, { verb: 'rename', name: 'SECOND' })).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'name' }] },
    });
    const copy = must(await world.within((scope) => copySegment(world.ctx, scope, first.id, other)));
    expect([copy.name, copy.ownerId, copy.shared]).toEqual(['Copy of Primero', other.accountId, 'me']);
    must(await change(first.id, { verb: 'share', shared: 'me', accounts: [] }));
    expect(await names(other.accountId)).toEqual(['Second', 'Copy of Primero']);
  });

  it('saved by two at once: the second is told, and loses nothing', async () => {
    const [me] = await accounts();
    const segment = await make('Shared', me);
    const save = (name: string) =>
      world.within((scope) =>
        saveSegment(world.ctx, scope, segment.id, { name, condition: cut, version: 1 }, me),
      );
    expect((await save('Mine')).ok).toBe(true);
    expect(await save('Yours')).toMatchObject({
      ok: false,
      reason: { code: 'conflict', problems: [{ field: 'version' }] },
    });
    expect(await names(me.accountId)).toEqual(['Mine']);
  });

  it('cannot be part of themselves, however far round', async () => {
    const [me] = await accounts();
    const one = await make('One', me);
    const two = await make('Two', me, JSON.stringify({ ask: 'segment', id: one.id, has: true }));
    const save = await world.within((scope) =>
      saveSegment(
        world.ctx,
        scope,
        one.id,
        {
          name: 'One',
          condition: JSON.stringify({ none: [{ ask: 'segment', id: two.id, has: true }] }),
          version: 1,
        },
        me,
      ),
    );
    expect(save).toMatchObject({ ok: false, reason: { problems: [{ field: 'condition' }] } });
  });

  it('are not deleted while something rests on them: which is said', async () => {
    const [me] = await accounts();
    const one = await make('One', me);
    const two = await make('Two', me, JSON.stringify({ ask: 'segment', id: one.id, has: true }));
    const uses = JSON.stringify({ ask: 'segment', id: two.id, has: true });
    must(
      await world.within((scope) =>
        createBroadcast(
          world.ctx,
          scope,
          { program: 'Clear Sky Alerts', name: 'Saturn week', body: 'x', audience: uses },
          me,
        ),
      ),
    );
    const remove = (id: string) => world.within((scope) => deleteSegment(world.ctx, scope, id, me));
    expect(await remove(one.id)).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringContaining('“Two”') as string }] },
    });
    expect(await remove(two.id)).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringContaining('“Saturn week”') as string }] },
    });
    await rows(`update broadcast set state = 'finished' where workspace_id = :workspace returning 1`);
    expect((await remove(two.id)).ok).toBe(true);
    expect((await remove(one.id)).ok).toBe(true);
  });

  it.each<[string, string, string]>([
    ['', cut, 'name'],
    ['x'.repeat(81), cut, 'name'],
    ['Fine', '{"all":[{"ask":"tag","id":"lab_gone","has":true}]}', 'condition'],
    ['Fine', '{"all":[{"ask":"nothing"}]}', 'condition.all.0'],
    ['Fine', 'not json', 'condition'],
  ])('are refused with the field: %s %s', async (name, condition, field) => {
    expect(
      await world.within((scope) => createSegment(world.ctx, scope, { name, condition }, API)),
    ).toMatchObject({ ok: false, reason: { problems: [{ field }] } });
  });

  it('are stored as the JSON they were given, and read again', async () => {
    const [me] = await accounts();
    const segment = await make('One', me);
    expect(parseCondition(segment.condition)).toEqual({ ok: true, value: JSON.parse(cut) as Condition });
  });
});

describe('fields, stages and tags', () => {
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

  it('stages go only when nobody is in them', async () => {
    const stage = must(await world.within((scope) => addStage(world.ctx, scope, 'Curious', 'test')));
    const ana = await add('3035550101');
    must(await edit(ana, 'stage', stage.id));
    expect(await world.within((scope) => removeStage(world.ctx, scope, stage.id, 'test'))).toMatchObject({
      ok: false,
      reason: { code: 'conflict' },
    });
    must(await edit(ana, 'stage', ''));
    must(await world.within((scope) => renameStage(world.ctx, scope, stage.id, 'Keen', 'test')));
    expect((await world.within((scope) => removeStage(world.ctx, scope, stage.id, 'test'))).ok).toBe(true);
  });

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

  it('is exported whole, and to nobody else', async () => {
    await world.texts('+13035550101', 'sky');
    const [person] = await rows<{ id: string }>(`select id from person where workspace_id = :workspace`);
    const data = (await world.within((scope) => exportPerson(scope, person!.id))) as Record<
      string,
      unknown[]
    >;
    expect([data.consent!.length, data.texts!.length, data.received!.length]).toEqual([1, 1, 1]);
    expect(await world.within((scope) => exportPerson(scope, person!.id), 'another')).toBeNull();
  });

  it.each(['csv', 'xlsx', 'vcard'] as const)(
    'exported as %s stands in the file with a number that is one',
    async (format) => {
      const ana = await add('3035550101', { first_name: '=1+1', last_name: 'Ortiz' });
      await add('3035550102', { first_name: 'Ben' });
      const read = async (meant: Parameters<typeof exportPeople>[3]) => {
        const file = must(
          await exportPeople(world.ctx.orm, world.workspaceId, format, meant, world.clock.at),
        );
        return Buffer.from(
          new Uint8Array(
            file.body instanceof Uint8Array ? file.body : await new Response(file.body).arrayBuffer(),
          ),
        );
      };
      const one = await read({ kind: 'ids', ids: [ana] });
      const all = await read({ kind: 'all', condition: '', search: '' });
      if (format === 'xlsx') return expect(all.subarray(0, 2).toString()).toBe('PK');
      expect(one.toString()).toContain('+13035550101');
      expect(one.toString()).not.toContain('+13035550102');
      expect(all.toString()).toContain('+13035550102');
      if (format === 'csv') expect(one.toString()).toContain(`+13035550101,'=1+1`);
    },
  );

  it('erased twice is erased once', async () => {
    const ana = await add('3035550101', { first_name: 'Ana' });
    expect((await world.within((scope) => erasePerson(world.ctx, scope, ana, 'test'))).ok).toBe(true);
    expect(await world.within((scope) => erasePerson(world.ctx, scope, ana, 'test'))).toMatchObject({
      ok: false,
    });
    expect(await page('')).toEqual([]);
  });
});

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

describe('a merge', () => {
  const state = async (id: string) =>
    (
      await rows<{ state: string }>(
        `select state from consent_state where workspace_id = :workspace and person_id = :id and current`,
        { id },
      )
    )[0]?.state;
  const merge = (kept: string, gone: string, choices = {}) =>
    world.within((scope) => mergePeople(world.ctx, scope, kept, gone, choices, API));
  const byNumber = async (number: string) =>
    (
      await rows<{ id: string }>(
        `select id from person where workspace_id = :workspace and number = :number`,
        { number },
      )
    )[0]!.id;

  it('keeps chosen values, takes history along, and a text from the old number finds the one that was kept', async () => {
    await world.texts('+13035550101', 'sky');
    await world.texts('+13035550102', 'hello there');
    const [ana, anna] = [await byNumber('+13035550101'), await byNumber('+13035550102')];
    must(await edit(anna, 'first_name', 'Anna'));
    must(await edit(anna, 'email', 'anna@example.org'));
    const tag = must(
      await world.within((scope) => findOrMakeLabel(world.ctx, scope, 'tag', 'walks', 'test')),
    );
    await world.within((scope) => setLabel(world.ctx, scope, tag.id, [anna], true));
    const screen = (await world.within((scope) => readMerge(scope, [anna, ana])))!;
    expect([screen.one.id, screen.choices]).toEqual([
      ana,
      { number: 'one', firstName: 'other', email: 'other' },
    ]);
    const { mergeId } = must(await merge(ana, anna, screen.choices));
    expect(
      await rows(
        `select number, first_name, email, merged_into from person where workspace_id = :workspace order by number`,
      ),
    ).toEqual([
      { number: '+13035550101', first_name: 'Anna', email: 'anna@example.org', merged_into: null },
      { number: null, first_name: 'Anna', email: null, merged_into: ana },
    ]);
    expect(await page('')).toEqual(['Anna']);
    expect(
      await rows(
        `select count(*)::int as n from inbound_text where workspace_id = :workspace and person_id = :ana`,
        { ana },
      ),
    ).toEqual([{ n: 2 }]);
    await world.texts('+13035550102', 'hello again');
    expect(
      await rows(
        `select count(*)::int as n from inbound_text where workspace_id = :workspace and person_id = :ana`,
        { ana },
      ),
    ).toEqual([{ n: 3 }]);
    expect(must(await world.within((scope) => undoMerge(world.ctx, scope, mergeId, 'test')))).toEqual({
      keptId: ana,
      goneId: anna,
    });
    expect(
      await rows(
        `select number, first_name, email, merged_into from person where workspace_id = :workspace order by number`,
      ),
    ).toEqual([
      { number: '+13035550101', first_name: null, email: null, merged_into: null },
      { number: '+13035550102', first_name: 'Anna', email: 'anna@example.org', merged_into: null },
    ]);
    expect(
      await rows(`select person_id from person_label where workspace_id = :workspace and person_id = :anna`, {
        anna,
      }),
    ).toHaveLength(1);
    expect(await world.within((scope) => undoMerge(world.ctx, scope, mergeId, 'test'))).toMatchObject({
      ok: false,
      reason: { code: 'conflict' },
    });
    expect(await checkConsent(world.ctx, world.workspaceId)).toMatchObject({ differences: [] });
  });

  it('with somebody who opted out leaves the person opted out', async () => {
    await world.texts('+13035550101', 'sky');
    await world.texts('+13035550102', 'sky');
    await world.texts('+13035550102', 'STOP');
    const [ana, anna] = [await byNumber('+13035550101'), await byNumber('+13035550102')];
    const { mergeId } = must(await merge(ana, anna));
    expect(await state(ana)).toBe('out');
    expect(
      await rows(
        `select stopped_at is not null as stopped from person where workspace_id = :workspace and id = :ana`,
        { ana },
      ),
    ).toEqual([{ stopped: true }]);
    must(await world.within((scope) => undoMerge(world.ctx, scope, mergeId, 'test')));
    expect([await state(ana), await state(anna)]).toEqual(['in', 'out']);
    expect(
      await rows(`select id from person where workspace_id = :workspace and stopped_at is not null`),
    ).toEqual([{ id: anna }]);
    expect(await checkConsent(world.ctx, world.workspaceId)).toMatchObject({ differences: [] });
  });

  it('carries agreement over with its address, to no other', async () => {
    const ana = await add('3035550101');
    await world.texts('+13035550102', 'sky');
    const anna = await byNumber('+13035550102');
    must(await merge(ana, anna, { number: 'one' }));
    expect(
      await rows(
        `select address, state, current from consent_state where workspace_id = :workspace and person_id = :ana`,
        { ana },
      ),
    ).toEqual([{ address: '+13035550102', state: 'in', current: true }]);
    expect(await state(anna)).toBe('lapsed');
    expect(
      await rows(
        `select value, rank from address where workspace_id = :workspace and person_id = :ana order by rank`,
        { ana },
      ),
    ).toEqual([
      { value: '+13035550101', rank: 0 },
      { value: '+13035550102', rank: 1 },
    ]);
  });

  it('takes the agreement along with the number it was given from', async () => {
    const ana = await add('3035550101', { first_name: 'Ana' });
    await world.texts('+13035550102', 'sky');
    const anna = await byNumber('+13035550102');
    must(await merge(ana, anna, { number: 'other' }));
    expect(await state(ana)).toBe('in');
    expect(await byNumber('+13035550102')).toBe(ana);
  });

  it.each([
    ['oneself', (ana: string) => [ana, ana]],
    ['nobody', (ana: string) => [ana, 'per_elsewhere']],
  ])('with %s is refused', async (_, ids) => {
    const ana = await add('3035550101');
    const [one, other] = ids(ana) as [string, string];
    expect((await merge(one, other)).ok).toBe(false);
  });
});
