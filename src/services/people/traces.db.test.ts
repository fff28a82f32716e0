import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { noLookup } from '@/gateways/lookup';
import { audienceContext } from '@/services/audience/audience';
import { addAccount } from '@/services/access/create-workspace';
import { editPerson } from './edit-person';
import { erasePeople } from './erase-person';
import { advanceImports } from '@/services/imports/engine';
import { checkImport, createImport, dropForgottenFiles, runImport } from '@/services/imports/imports';
import type { ImportInput } from '@/services/imports/inputs';
import { countPress, rememberAnswer } from '@/services/kit/press';
import { readPeopleScreen } from './people-screen';
import { createSegment } from '@/services/audience/segments';
import { makeWorld, type World } from '@/services/testing/world';

const ME = { name: 'acc_test', accountId: null };
const NUMBER = '+13035550142';
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

async function upload(text: string): Promise<string> {
  const bytes = (async function* () {
    yield new TextEncoder().encode(text);
  })();
  const made = await world.within((scope) => createImport(world.ctx, scope, { name: 'a.csv', bytes }, ME));
  if (!made.ok) throw new Error('refused');
  await advanceImports(world.ctx, noLookup);
  return made.value.id;
}
async function check(id: string): Promise<void> {
  const input = {
    name: 'a',
    columns: [{ to: 'number' }, { to: 'last_name' }],
    tags: [],
  } as unknown as ImportInput;
  const checked = await world.within((scope) => checkImport(world.ctx, scope, id, input, ME));
  if (!checked.ok) throw new Error(JSON.stringify(checked.reason));
  await advanceImports(world.ctx, noLookup);
}
/** Every table that still holds a word, in any column, files included. */
async function holding(word: string): Promise<string[]> {
  const tables = await world.within((scope) =>
    scope.rows<{ name: string }>(
      `select tablename as name from pg_tables where schemaname = 'public' and tablename <> 'migration' and :workspace <> '' order by 1`,
    ),
  );
  const found: string[] = [];
  for (const { name } of tables) {
    const bytes = name === 'import_chunk' ? ` or position(convert_to(:word, 'UTF8') in t.bytes) > 0` : '';
    const rows = await world.within((scope) =>
      scope.rows(
        `select 1 from "${name}" t where (t::text like '%' || :word || '%'${bytes}) and :workspace <> '' limit 1`,
        {
          word,
        },
      ),
    );
    if (rows.length > 0) found.push(name);
  }
  return found;
}

describe('erasing somebody', () => {
  it('leaves nothing of their name, number or words anywhere', async () => {
    // In a file that ran, in one that was only tried, doubled, merged, edited, answered, kept for a repetition.
    const ran = await upload(`number,name\n${NUMBER},Quillfeather\n${NUMBER},Quillfeather\n`);
    await check(ran);
    await world.within((scope) => runImport(world.ctx, scope, ran, ME));
    await advanceImports(world.ctx, noLookup);
    await check(await upload(`number,name\n${NUMBER},Quillfeather\n`));
    await world.texts(NUMBER, 'Quillfeather here, sky please');
    const [person] = await world.within((scope) =>
      scope.rows<{ id: string }>(
        `select id from person where workspace_id = :workspace and number = '${NUMBER}'`,
      ),
    );
    await world.within((scope) =>
      editPerson(world.ctx, scope, person!.id, 'first_name', 'Quillfeather', 'acc_test'),
    );
    await world.within(async (scope) => {
      await countPress(world.ctx, scope, 'k1');
      await rememberAnswer(scope, 'k1', { id: person!.id, last_name: 'Quillfeather', number: NUMBER });
    });
    expect(await holding('Quillfeather')).toEqual(
      expect.arrayContaining(['audit_entry', 'import', 'import_row', 'inbound_text', 'person', 'press']),
    );
    await world.within((scope) => erasePeople(world.ctx, scope, [person!.id], 'acc_test'));
    expect(await holding('Quillfeather')).toEqual([]);
    expect(await holding('quillfeather')).toEqual([]);
    expect(await holding('3035550142')).toEqual([]);
  });
});

describe('a stored file', () => {
  it('goes when the import runs, and after a week in which nobody went on with it', async () => {
    const ran = await upload(`number,name\n${NUMBER},Ana\n`);
    await check(ran);
    await world.within((scope) => runImport(world.ctx, scope, ran, ME));
    const left = await upload(`number,name\n+13035550143,Ben\n`);
    expect(
      await world.within((scope) =>
        scope.rows(`select distinct import_id from import_chunk where workspace_id = :workspace`),
      ),
    ).toEqual([{ import_id: left }]);
    world.clock.at += 8 * 86_400_000;
    await dropForgottenFiles(world.ctx);
    expect(
      await world.within((scope) => scope.rows(`select 1 from import_chunk where workspace_id = :workspace`)),
    ).toEqual([]);
    await expect(check(left)).rejects.toThrow(/Upload it again/);
  });

  it('that did not arrive whole is refused, and leaves nothing', async () => {
    const bytes = (async function* () {
      yield new TextEncoder().encode('number\n3035550142\n');
    })();
    const made = await world
      .within(async (scope) => {
        const result = await createImport(world.ctx, scope, { name: 'a', bytes, announced: 30_000_000 }, ME);
        if (!result.ok) throw new Error(result.reason.problems[0]!.message);
      })
      .catch((error: Error) => error.message);
    expect(made).toBe('file: of 30000000 bytes only 18 arrived. Nothing was kept; send it again.');
    expect(await holding('3035550142')).toEqual([]);
  });
});

it('the name of a private segment is shown to nobody else, nor where a condition rests on it', async () => {
  const account = (email: string) =>
    addAccount(world.ctx, world.workspaceId, { email, name: email, password: 'x', role: 'manager' });
  const [mine, theirs] = [await account('a@example.org'), await account('b@example.org')];
  const made = await world.within((scope) =>
    createSegment(
      world.ctx,
      scope,
      { name: 'Likely to leave us', condition: '{"all":[]}' },
      { name: mine, accountId: mine },
    ),
  );
  if (!made.ok) throw new Error('refused');
  const shown = (viewer: string | null) =>
    world.within(async (scope) =>
      (await audienceContext(scope, world.clock.at, viewer)).names.get(made.value.id),
    );
  expect(await shown(mine)).toBe('Likely to leave us');
  expect([await shown(theirs), await shown(null)]).toEqual([
    'a colleague’s own segment',
    'a colleague’s own segment',
  ]);
  const screen = await world.within((scope) =>
    readPeopleScreen(scope, theirs, world.clock.at, {
      cut: '',
      segment: made.value.id,
      search: '',
      sort: '',
    }),
  );
  expect(JSON.stringify(screen)).not.toContain('Likely');
});
