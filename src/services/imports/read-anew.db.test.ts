import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { readFileSync } from 'node:fs';
import { FILE, ImportDesk } from '@/services/testing/imports';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import { createImport, readAnew } from './imports';
import type { ReadAnewInput } from './inputs';

const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());
const desk = new ImportDesk(() => world);

const again = async (id: string, input: ReadAnewInput) => {
  must(await world.within((scope) => readAnew(world.ctx, scope, id, input, ME)));
  await desk.work();
  return desk.read(id);
};
const TITLED = `Visitor export 2026,,\nas of 20 November,,\n,,\n${FILE}`;
const targets = (row: Awaited<ReturnType<typeof desk.read>>) => row.mapping.map(({ to }) => to);

describe('a file with titles above its header', () => {
  it('is read the same as the web page that some programs call a workbook', async () => {
    const lines = TITLED.trim().split('\n');
    const page = `<html><body><table>${lines.map((line) => `<tr><td>${line.split(',').join('</td><td>')}</td></tr>`).join('')}</table></body></html>`;
    const row = await desk.upload(page);
    expect(row).toMatchObject({ format: 'html', shape: { headerLine: 4, sheets: [] } });
    expect(targets(row).slice(0, 2)).toEqual(['first_name', 'number']);
    expect((await desk.check(row)).rows).toBe(5);
  });

  it('is read of a workbook as XML, from the sheet that holds people or the one that is chosen', async () => {
    const sheet = (name: string, rows: string[][]) =>
      `<Worksheet ss:Name="${name}"><Table>${rows.map((row) => `<Row>${row.map((cell) => `<Cell><Data ss:Type="String">${cell}</Data></Cell>`).join('')}</Row>`).join('')}</Table></Worksheet>`;
    const lines = TITLED.trim()
      .split('\n')
      .map((line) => line.split(','));
    const head =
      '<?xml version="1.0"?><Workbook xmlns="urn:schemas-microsoft-com:office:spreadsheet" xmlns:ss="urn:schemas-microsoft-com:office:spreadsheet">';
    const row = await desk.upload(
      `${head}${sheet('Read me', [['How to read this']])}${sheet('Visitors', lines)}</Workbook>`,
    );
    expect(row).toMatchObject({
      format: 'xml',
      shape: { sheets: ['Read me', 'Visitors'], headerLine: 4 },
      options: { sheet: 1 },
    });
    expect((await desk.check(row)).rows).toBe(5);
    expect(targets(await again(row.id, { sheet: 0 }))).toEqual(['skip']);
  });

  it('is read from the header on, and the titles become nobody', async () => {
    const row = await desk.upload(TITLED);
    expect(row.shape).toMatchObject({ headerLine: 4, header: ['First name', 'Phone', 'Favourite planet'] });
    expect(targets(row).slice(0, 2)).toEqual(['first_name', 'number']);
    const tried = await desk.check(row);
    expect([tried.state, tried.rows]).toEqual(['checked', 5]);
    expect(
      await world.rows(
        `select line from import_row r where workspace_id = :workspace and r::text ilike '%visitor export%'`,
      ),
    ).toEqual([]);
  });

  it('is read as somebody says: with another row as header, or none, also after it was tried', async () => {
    const row = await desk.upload(TITLED);
    await desk.check(row);
    const bare = await again(row.id, { header_line: null });
    expect([bare.state, bare.shape.headerLine, bare.shape.guesses![0]!.title]).toEqual([
      'draft',
      null,
      'Column 1',
    ]);
    const columns = [{ to: 'first_name' }, { to: 'number' }, { to: 'skip' }];
    const tried = await desk.check(bare, { columns });
    // The titles too, and the header.
    expect(tried.rows).toBe(8);
    expect((await again(row.id, { header_line: 4 })).shape.headerLine).toBe(4);
  });

  it('of a workbook is found on the sheet that holds people, or on the one that is chosen', async () => {
    const bytes = new Uint8Array(
      readFileSync(new URL('../../gateways/files/testing/visitors.ods', import.meta.url)),
    );
    const pieces = async function* () {
      yield bytes;
    };
    const { id } = must(
      await world.within((scope) => createImport(world.ctx, scope, { name: 'v.ods', bytes: pieces() }, ME)),
    );
    await desk.work();
    // The first sheet holds nobody: the next that does is read, until somebody chooses.
    const row = await desk.read(id);
    expect([row.shape.sheets, row.options.sheet, row.shape.headerLine]).toEqual([
      ['Read me', 'Visitors'],
      1,
      4,
    ]);
    expect(targets(row).slice(0, 3)).toEqual(['first_name', 'last_name', 'number']);
    expect((await desk.check(row)).rows).toBe(2);
    const cover = await again(id, { sheet: 0 });
    expect([cover.options.sheet, targets(cover)]).toEqual([0, ['skip']]);
    expect(targets(await again(id, { sheet: 1 })).slice(0, 3)).toEqual(['first_name', 'last_name', 'number']);
    expect(await world.within((scope) => readAnew(world.ctx, scope, id, { sheet: 2 }, ME))).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'sheet' }] },
    });
  });
});
