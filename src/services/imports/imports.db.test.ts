import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createImport, checkImport, dropImport, runImport, stopImport } from './imports';
import type { ImportInput } from './inputs';
import { importRow } from '@/db/imports/imports';
import { bytesOf, FILE, ImportDesk, WORDING } from '@/services/testing/imports';
import { makeWorld, type World } from '@/services/testing/world';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new ImportDesk(() => world);
const { upload, check, read, work, people, consent } = desk;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);

describe('an import', () => {
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

  /** What is said of agreeing on a day; null: it is taken. */
  async function refusedDay(id: string, consent_date?: string): Promise<string | null> {
    const { mapping } = (await read(id))!;
    const input = {
      name: 'x',
      columns: mapping.map(({ to }) => ({ to })),
      program: (await consent()).program,
      consent_wording: WORDING,
      ...(consent_date ? { consent_date } : {}),
    } as ImportInput;
    const checked = await world.within((scope) => checkImport(world.ctx, scope, id, input, ME));
    return checked.ok ? null : checked.reason.problems![0]!.field;
  }

  it('asks for the day of consent, and none in the future', async () => {
    const { id } = await upload(FILE);
    for (const day of [undefined, '2026-02-31', '2027-01-01'])
      expect(await refusedDay(id, day)).toBe('consent_date');
  });

  it('knows which day it is where the workspace is', async () => {
    // The 24th in Denver still, the 25th in UTC; then the other way about for Auckland.
    world.clock.at = Date.UTC(2026, 10, 25, 1);
    const evening = await upload(FILE);
    expect(evening.options.tags).toEqual(['Import 2026-11-24']);
    expect(await refusedDay(evening.id, '2026-11-25')).toBe('consent_date');
    await world.within((scope) =>
      scope.run(`update workspace set zone = 'Pacific/Auckland' where id = :workspace`),
    );
    world.clock.at = Date.UTC(2026, 10, 25, 20);
    const morning = await upload(`${FILE}\n`);
    expect(morning.options.tags).toEqual(['Import 2026-11-26']);
    expect(await refusedDay(morning.id, '2026-11-26')).toBeNull();
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
