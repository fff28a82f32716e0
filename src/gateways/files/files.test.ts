import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { deflateRawSync, crc32 } from 'node:zlib';
import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { detectEncoding, detectFormat, UnreadableFile, type Encoding } from './detect';
import type { FileRow, OpenFile } from './file-row';
import { fileRows } from './rows';
import { unpackedSize } from './xlsx';

const bytes = (text: string, encoding: BufferEncoding = 'utf8') =>
  new Uint8Array(Buffer.from(text, encoding));
/** The same bytes in pieces of any size, as a network brings them. */
const inPieces = (data: Uint8Array, size: number): OpenFile =>
  async function* () {
    for (let i = 0; i < data.length; i += size) yield data.subarray(i, i + size);
  };

async function read(data: Uint8Array, size = 7): Promise<FileRow[]> {
  const head = data.subarray(0, 65_536);
  const rows: FileRow[] = [];
  const shape = { format: detectFormat(head), encoding: detectEncoding(head), delimiter: null };
  for await (const some of fileRows(inPieces(data, size), shape)) rows.push(...some);
  return rows;
}
const cells = async (data: Uint8Array, size?: number) => (await read(data, size)).map((row) => row.cells);

describe('what a file is', () => {
  it.each<[string, Uint8Array, string]>([
    ['plain text', bytes('a,b\n1,2'), 'csv'],
    ['a workbook, whatever it is called', bytes('PK\x03\x04', 'latin1'), 'xlsx'],
    ['an old workbook', new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 0xa1]), 'xls'],
    ['a card', bytes('begin:vcard\r\nversion:3.0'), 'vcard'],
    ['a web page that is called a workbook', bytes('\n<html><table><tr><td>Name'), 'html'],
    [
      'a workbook as XML',
      bytes(
        '<?xml version="1.0"?>\n<?mso-application progid="Excel.Sheet"?>\n<Workbook xmlns="urn:schemas-microsoft-com:office:spreadsheet">',
      ),
      'xml',
    ],
    ['a table without a page', bytes('\uFEFF<!-- made by a shop -->\n<TABLE border=1>'), 'html'],
    ['thousands of comments, and nothing else', bytes('<!-- -->'.repeat(8_000)), 'csv'],
    ['a card with a byte order mark', bytes('\uFEFFBEGIN:VCARD'), 'vcard'],
  ])('%s', (_, data, format) => expect(detectFormat(data)).toBe(format));

  it.each<[string, Uint8Array, RegExp]>([
    ['nothing', new Uint8Array(), /empty/],
    ['a PDF', bytes('%PDF-1.7'), /PDF/],
    ['a picture', new Uint8Array([0x89, 0x50, 0x4e, 0x47]), /Scan a card/],
    ['another document as XML', bytes('<?xml version="1.0"?><invoice/>'), /XML document/],
    ['a list of JSON', bytes('[{"name": "Ana"}]'), /JSON/],
    ['a program', bytes('MZ\x01\x02\x03\x04\x05\x06\x07\x08\x0e\x0f\x10\x11', 'latin1'), /not a table/],
  ])('refuses %s, and says what to do', (_, data, message) => {
    expect(() => detectFormat(data)).toThrow(UnreadableFile);
    expect(() => detectFormat(data)).toThrow(message);
  });

  it.each<[string, Uint8Array, Encoding]>([
    ['UTF-8 with a mark', bytes('\uFEFFŁucja'), 'utf-8'],
    ['UTF-8 without', bytes('Łucja'), 'utf-8'],
    ['UTF-8 cut in a letter', bytes('Łucja Ł').subarray(0, 8), 'utf-8'],
    ['UTF-16 with a mark', bytes('\uFEFFAna', 'utf16le'), 'utf-16le'],
    ['UTF-16 without', bytes('Ana,Ben', 'utf16le'), 'utf-16le'],
    ['UTF-16 the other way', bytes('Ana,Ben', 'utf16le').map((_, i, all) => all[i ^ 1]!), 'utf-16be'],
    ['Windows-1252', bytes('Ren\xe9e \x80', 'latin1'), 'windows-1252'],
  ])('%s', (_, data, encoding) => expect(detectEncoding(data)).toBe(encoding));
});

describe('delimited text', () => {
  it.each<[string, string]>([
    ['commas', 'Name,Phone\nAna,1\nBen,2'],
    ['semicolons', 'Name;Phone\nAna;1\nBen;2'],
    ['tabs, as pasted', 'Name\tPhone\nAna\t1\nBen\t2'],
    ['bars', 'Name|Phone\nAna|1\nBen|2'],
    ['the line that names the delimiter', 'sep=;\r\nName;Phone\r\nAna;1\r\nBen;2\r\n'],
    ['each cell written as a formula', 'Name,Phone\n"=""Ana""",="1"\n="Ben",="2"'],
    ['a byte order mark', '\uFEFFName,Phone\nAna,1\nBen,2'],
    ['line breaks of old', 'Name,Phone\rAna,1\rBen,2'],
  ])('with %s', async (_, text) => {
    expect(await cells(bytes(text))).toEqual([
      ['Name', 'Phone'],
      ['Ana', '1'],
      ['Ben', '2'],
    ]);
  });

  it('with rows of different lengths is cut where most lines can be', async () => {
    expect(await cells(bytes('Name\tPhone\n\nAna, Ben\t1\nCy\tDee\t2\n'))).toEqual([
      ['Name', 'Phone'],
      ['Ana, Ben', '1'],
      ['Cy', 'Dee', '2'],
    ]);
    expect(await cells(bytes('Name;Phone\nAna;1;\nBen;2;3\n'))).toEqual([
      ['Name', 'Phone'],
      ['Ana', '1', ''],
      ['Ben', '2', '3'],
    ]);
  });

  it('keeps quoted line breaks, delimiters and quotation marks in their cell', async () => {
    expect(await cells(bytes('a,b\n"one\r\ntwo","x, ""y"""\nlast,row'))).toEqual([
      ['a', 'b'],
      ['one\ntwo', 'x, "y"'],
      ['last', 'row'],
    ]);
  });

  it('reads every encoding, cut anywhere', async () => {
    for (const size of [1, 2, 3, 5, 1_000]) {
      expect(await cells(bytes('\uFEFFŁucja,🙂\nX,y', 'utf16le'), size)).toEqual([
        ['Łucja', '🙂'],
        ['X', 'y'],
      ]);
      expect(await cells(bytes('Łucja,🙂\nX,y'), size)).toEqual([
        ['Łucja', '🙂'],
        ['X', 'y'],
      ]);
      expect(await cells(bytes('Ren\xe9e,\x80\nX,y', 'latin1'), size)).toEqual([
        ['Renée', '€'],
        ['X', 'y'],
      ]);
    }
  });

  it('counts rows as a spreadsheet does, empty ones too', async () => {
    expect((await read(bytes('a,b\n\n1,2\n,\n3,4\n'))).map(({ line }) => line)).toEqual([1, 3, 5]);
  });

  it('takes ragged rows as they are', async () => {
    expect(await cells(bytes('a,b,c\n1\n1,2,3,4'))).toEqual([['a', 'b', 'c'], ['1'], ['1', '2', '3', '4']]);
  });

  it('says where a quotation mark is not closed, without reading for ever', async () => {
    const data = bytes(`a,b\n1,2\n3,"${'x'.repeat(3_000_000)}`);
    await expect(read(data, 65_536)).rejects.toThrow(/Row 1 or one after it .*quotation mark/);
  });

  it('refuses a million columns', async () => {
    await expect(read(bytes(`${'a,'.repeat(400_000)}\n`), 65_536)).rejects.toThrow(/more than 500 columns/);
  });

  it('gives back any table that was written', async () => {
    const table = fc.array(
      fc.array(fc.string({ unit: fc.constantFrom('a', '"', ',', ';', '\n', ' ', 'ł', '🙂') }), {
        minLength: 2,
        maxLength: 4,
      }),
      { minLength: 1, maxLength: 30 },
    );
    await fc.assert(
      fc.asyncProperty(table, fc.integer({ min: 1, max: 50 }), async (rows, size) => {
        const marked = rows.map((row) => ['x', ...row]);
        const found: string[][] = [];
        const open = inPieces(bytes(Papa.unparse(marked, { quotes: true })), size);
        for await (const some of fileRows(open, { format: 'csv', encoding: 'utf-8', delimiter: ',' }))
          found.push(...some.map((row) => row.cells));
        expect(found).toEqual(marked);
      }),
    );
  });
});

/** A zip with one entry that says what it unpacks to. */
function zip(name: string, content: Uint8Array, claimed = content.length): Uint8Array {
  const packed = deflateRawSync(content);
  const head = Buffer.alloc(30);
  head.writeUInt32LE(0x04034b50, 0);
  head.writeUInt16LE(20, 4);
  head.writeUInt16LE(8, 8);
  head.writeUInt32LE((crc32 as (data: Uint8Array) => number)(content), 14);
  head.writeUInt32LE(packed.length, 18);
  head.writeUInt32LE(claimed, 22);
  head.writeUInt16LE(name.length, 26);
  const entry = Buffer.alloc(46);
  entry.writeUInt32LE(0x02014b50, 0);
  entry.writeUInt16LE(8, 10);
  entry.writeUInt32LE(packed.length, 20);
  entry.writeUInt32LE(claimed, 24);
  entry.writeUInt16LE(name.length, 28);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(1, 8);
  end.writeUInt16LE(1, 10);
  end.writeUInt32LE(46 + name.length, 12);
  end.writeUInt32LE(30 + name.length + packed.length, 16);
  return Buffer.concat([head, Buffer.from(name), packed, entry, Buffer.from(name), end]);
}

/** A workbook made by the library that writes our exports. */
const workbook = (rows: (string | number)[][]): Uint8Array =>
  execFileSync(
    process.execPath,
    [
      '--input-type=module',
      '-e',
      `import write from 'write-excel-file/node';
      const rows = ${JSON.stringify(rows)}.map((row) => row.map((value) => ({ value })));
      const out = await write(rows); const file = await (out.toBuffer ? out.toBuffer() : out); process.stdout.write(file);`,
    ],
    { maxBuffer: 50_000_000 },
  );

describe('workbooks', () => {
  it('gives the rows of the first sheet, numbers in full', async () => {
    expect(
      await cells(
        workbook([
          ['Name', 'Phone'],
          ['Ana', 13035550123],
          ['Łucja', '+1 303 555 0124'],
        ]),
      ),
    ).toEqual([
      ['Name', 'Phone'],
      ['Ana', '13035550123'],
      ['Łucja', '+1 303 555 0124'],
    ]);
  });

  it('reads many rows in order', async () => {
    const rows = await read(workbook(Array.from({ length: 5_500 }, (_, i) => [`n${i}`, i])));
    expect(rows).toHaveLength(5_500);
    expect(rows.at(-1)).toEqual({ line: 5_500, cells: ['n5499', '5499'] });
  });

  it('is refused before it is unpacked when it would unpack to gigabytes', async () => {
    await expect(read(zip('xl/worksheets/sheet1.xml', new Uint8Array(10), 4_000_000_000))).rejects.toThrow(
      /3,815 MB/,
    );
  });

  it('that lies about its size ends its thread, not the process', async () => {
    const bomb = zip('xl/workbook.xml', new Uint8Array(200_000_000), 100);
    await expect(read(bomb)).rejects.toThrow(UnreadableFile);
  });

  it.each<[string, Uint8Array]>([
    ['cut off', zip('xl/workbook.xml', bytes('x')).subarray(0, 40)],
    ['another kind of zip', zip('readme.txt', bytes('hello'))],
  ])('%s is refused in a sentence', async (_, data) => {
    await expect(read(data)).rejects.toThrow(UnreadableFile);
  });

  it('adds up what the directory says', () => {
    expect(unpackedSize(zip('a', bytes('hello'), 12_345))).toBe(12_345);
    expect(unpackedSize(bytes('no zip at all, but long enough to look for one'))).toBeNull();
  });
});

describe('cards', () => {
  const card = (...lines: string[]) => bytes(`BEGIN:VCARD\r\n${lines.join('\r\n')}\r\nEND:VCARD\r\n`);

  it('with photos of five megabytes are read, folded or in one line', async () => {
    const photo = 'A'.repeat(5_000_000);
    const folded = photo.slice(0, 1_000_000).replace(/(.{74})/g, '$1\r\n ');
    const data = Buffer.concat([
      card('VERSION:3.0', 'FN:Ana', `PHOTO;ENCODING=b;TYPE=JPEG:${photo}`, 'TEL:3035550123'),
      card('VERSION:3.0', 'FN:Ben', `PHOTO;ENCODING=b:${folded}`, 'TEL:3035550124'),
    ]);
    expect((await read(data, 65_536)).slice(1).map(({ cells: [name, , phone] }) => [name, phone])).toEqual([
      ['Ana', '3035550123'],
      ['Ben', '3035550124'],
    ]);
  });

  it('that cannot be read are empty rows with their number, and the others are read', async () => {
    const data = Buffer.concat([
      card('VERSION:3.0', 'no colon here at all'),
      card('VERSION:3.0', 'FN:Ben', 'TEL:3035550124'),
    ]);
    const rows = await read(data);
    expect(rows.map(({ line }) => line)).toEqual([0, 1, 2]);
    expect(rows[2]!.cells[0]).toBe('Ben');
  });
});

describe('spreadsheets of another program', () => {
  const file = (name: string) => new Uint8Array(readFileSync(new URL(`./testing/${name}`, import.meta.url)));
  const read = async (data: Uint8Array, sheet: number) => {
    const rows: FileRow[] = [];
    const sheets: string[] = [];
    const reading = { format: detectFormat(data), encoding: 'utf-8' as const, delimiter: null, sheet };
    const onSheets = (names: string[]) => void sheets.push(...names);
    for await (const some of fileRows(inPieces(data, 1_000), { ...reading, onSheets })) rows.push(...some);
    return { rows, sheets };
  };

  it.each(['visitors.xlsx', 'visitors.ods', 'visitors.xls'])(
    '%s: its sheets, and the rows of one',
    async (name) => {
      const { rows, sheets } = await read(file(name), 1);
      expect(sheets).toEqual(['Read me', 'Visitors']);
      // The program that wrote these puts days into an OpenDocument as bare numbers.
      const [first, second] = name.endsWith('.ods') ? ['29710', '33238'] : ['1981-05-04', '1990-12-31'];
      expect(rows.map(({ line, cells }) => [line, cells.filter((cell) => cell !== '')])).toEqual([
        [1, ['Visitor export 2026']],
        [2, ['as of 2026-11-20']],
        [4, ['First name', 'Last name', 'Mobile', 'Born', 'Member']],
        [5, ['Ana', 'Ruiz', '(303) 555-0142', first, 'yes']],
        [6, ['Łucja', 'Nowak', '13035550143', second, 'no']],
      ]);
      expect((await read(file(name), 0)).rows.map(({ cells }) => cells[0])).toEqual([
        'Notes',
        'nothing here',
      ]);
    },
  );

  it('of which the first sheet is a chart has no rows there, and those of the others', async () => {
    const { rows, sheets } = await read(file('chart-first.xlsx'), 0);
    expect([rows, sheets]).toEqual([[], ['Chart', 'Data']]);
    expect((await read(file('chart-first.xlsx'), 1)).rows[1]!.cells).toEqual([
      'Ada',
      '719-555-0152',
      'yes',
      '2026-01-01',
    ]);
  });

  it.each(['visitors.ods', 'visitors.xls'])('%s cut off is refused in a sentence', async (name) => {
    const data = file(name);
    await expect(read(data.subarray(0, data.length - 900), 1)).rejects.toThrow(UnreadableFile);
  });
});
