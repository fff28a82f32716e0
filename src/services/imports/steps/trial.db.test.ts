import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { shownRows } from '@/db/imports/import-rows';
import { addField } from '@/services/audience/own-fields';
import { mergePeople } from '@/services/people/merge-people';
import { FILE, ImportDesk } from '@/services/testing/imports';
import { makeWorld, phone, type World } from '@/services/testing/world';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new ImportDesk(() => world);
const { upload, check, run, people, consent } = desk;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);

describe('trying an import', () => {
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

  it('without attested consent makes nobody textable', async () => {
    await run(await check(await upload(FILE), { program: (await consent()).program }));
    expect(await rows(`select 1 from consent_event where workspace_id = :workspace`)).toEqual([]);
  });

  it('takes two numbers of one person who was merged for one, and says so', async () => {
    const [kept, gone] = ['3035550101', '3035550102'];
    await check(await upload(`Phone\n${kept}\n${gone}`)).then(run);
    const [one, other] = (
      await rows<{ id: string }>(`select id from person where workspace_id = :workspace order by number`)
    ).map(({ id }) => id);
    await world.within((scope) => mergePeople(world.ctx, scope, one!, other!, {}, ME));
    const between = Array.from({ length: 2_100 }, (_, i) => `x,${i}`).join('\n');
    for (const rest of ['', `${between}\n`]) {
      const row = await check(await upload(`First name,Phone\nAna,${kept}\n${rest}Anna,${gone}`));
      expect(row.counts).toMatchObject({ duplicate: 1 });
      const [told] = await rows<{ told: string }>(
        `select told from import_row where workspace_id = :workspace and import_id = :id and verdict = 'duplicate'`,
        { id: row.id },
      );
      expect(told!.told).toBe(
        'the same person as row 2, by another address of theirs; left out with it: Anna',
      );
      expect((await run(row)).state).toBe('finished');
      expect(
        await rows(`select first_name from person where workspace_id = :workspace and merged_into is null`),
      ).toEqual([{ first_name: 'Ana' }]);
    }
  });

  it('knows those whom only a chat network knows by their id, each once, and brings their consent', async () => {
    const file = 'Name,Chat id\nAna Orr,orr-7\nBen Ash,ash.9\nAna again,orr-7\nCy Wren,303 555 0103\nNobody,';
    const agreed = { ...(await consent()), consent_channels: ['chat' as const] };
    const first = await check(await upload(file), agreed);
    const found = await world.within((scope) => shownRows(scope, first.id, '', 0, 100));
    expect(found.map(({ address, reason }) => [address, reason])).toEqual([
      ['orr-7', 'chat only'],
      ['ash.9', 'chat only'],
      ['orr-7', 'duplicate in file'],
      [phone(3), 'textable'],
      [null, 'invalid'],
    ]);
    await run(first);
    const there = () =>
      rows(
        `select p.first_name, p.number, c.channel, c.address, c.state from person p left join consent_state c on c.person_id = p.id
          where p.workspace_id = :workspace order by p.first_name`,
      );
    const agreedBy = { channel: 'chat', state: 'in' };
    expect(await there()).toEqual([
      { first_name: 'Ana', number: null, address: 'orr-7', ...agreedBy },
      { first_name: 'Ben', number: null, address: 'ash.9', ...agreedBy },
      { first_name: 'Cy', number: phone(3), address: phone(3), ...agreedBy },
    ]);
    // The same file once more is about the same people.
    const again = await run(await check(await upload(file), agreed));
    expect(again.counts).toMatchObject({ same: 3 });
    expect(await there()).toHaveLength(3);
  });

  it('reads own fields by name, and leaves the value out that does not fit', async () => {
    await world.within((scope) => addField(world.ctx, scope, { label: 'Visits', kind: 'number' }, 'test'));
    const checked = await check(await upload('Phone,Visits\n3035550101,3\n3035550102,many'));
    expect(checked.mapping.map(({ to }) => to)).toEqual(['number', 'own.visits']);
    await run(checked);
    expect((await people()).map(({ fields }) => fields)).toEqual([{ visits: '3' }, {}]);
  });
});
