import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { UnreadableFile } from './detect';
import { xmlRows } from './xml-rows';

async function read(document: string, { sheet = 0, size = document.length } = {}) {
  const texts = async function* () {
    for (let i = 0; i < document.length; i += size) yield document.slice(i, i + size);
  };
  let sheets: string[] = [];
  const rows: { line: number; cells: string[] }[] = [];
  for await (const some of xmlRows(texts, sheet, (names) => (sheets = names))) rows.push(...some);
  return { sheets, rows };
}

const HEAD = `<?xml version="1.0" encoding="UTF-8"?>
<?mso-application progid="Excel.Sheet"?>
<Workbook xmlns="urn:schemas-microsoft-com:office:spreadsheet" xmlns:ss="urn:schemas-microsoft-com:office:spreadsheet">
<DocumentProperties><Author>Nobody</Author></DocumentProperties><Styles><Style ss:ID="s1"/></Styles>`;
const VISITORS = `${HEAD}
<Worksheet ss:Name="Read me"><Table><Row><Cell><Data ss:Type="String">How to read this</Data></Cell></Row></Table></Worksheet>
<Worksheet ss:Name="Visitors &amp; friends"><Table ss:ExpandedColumnCount="4"><Column ss:Width="80"/>
 <Row><Cell ss:MergeAcross="3"><Data ss:Type="String">Visitor export</Data></Cell></Row>
 <Row ss:Index="3" ss:StyleID="s1"><Cell><Data ss:Type="String">Town</Data></Cell><Cell><Data ss:Type="String">Name</Data></Cell><Cell><Data ss:Type="String">Phone</Data></Cell><Cell><Data ss:Type="String">Since</Data></Cell></Row>
 <Row><Cell ss:MergeDown="1"><Data ss:Type="String">Pueblo</Data></Cell>
  <Cell><Data ss:Type="String">Ana &lt;3</Data><Comment ss:Author="x"><ss:Data>a note</ss:Data></Comment></Cell>
  <Cell><Data ss:Type="Number">1.3035550101E10</Data></Cell><Cell><Data ss:Type="DateTime">2026-11-24T00:00:00.000</Data></Cell></Row>
 <Row><Cell ss:Index="2"><Data ss:Type="String">Ben</Data></Cell><Cell ss:Index="4"><Data ss:Type="Boolean">1</Data></Cell></Row>
 <Row/>
</Table><WorksheetOptions><Selected/></WorksheetOptions></Worksheet></Workbook>`;
const ROWS = [
  { line: 1, cells: ['Visitor export', '', '', ''] },
  { line: 3, cells: ['Town', 'Name', 'Phone', 'Since'] },
  { line: 4, cells: ['Pueblo', 'Ana <3', '13035550101', '2026-11-24'] },
  { line: 5, cells: ['Pueblo', 'Ben', '', 'yes'] },
];

describe('a workbook as XML', () => {
  it('gives the rows of one sheet, each cell in its column, and what its sheets are called', async () => {
    for (const size of [1, 5, 64, VISITORS.length]) {
      const { sheets, rows } = await read(VISITORS, { sheet: 1, size });
      expect(sheets).toEqual(['Read me', 'Visitors & friends']);
      expect(rows).toEqual(ROWS);
    }
    expect((await read(VISITORS)).rows).toEqual([{ line: 1, cells: ['How to read this'] }]);
    expect((await read(VISITORS, { sheet: 2 })).rows).toEqual([]);
  });

  it('is read the same where each name says whose it is', async () => {
    const prefixed = VISITORS.replace(
      /<(\/?)(?=(?:Workbook|Worksheet|Table|Row|Cell|Data|Comment)\b)/g,
      '<$1ss:',
    );
    expect((await read(prefixed, { sheet: 1 })).rows).toEqual(ROWS);
  });

  it('believes no row and no column that no sheet has', async () => {
    const cell = (index: string, text: string) => `<Cell ss:Index="${index}"><Data>${text}</Data></Cell>`;
    const far = `${HEAD}<Worksheet><Table><Row ss:Index="99999999999">${cell('99999999', 'a')}${cell('-1', 'b')}${cell('x', 'c')}</Row></Table></Worksheet></Workbook>`;
    expect(await read(far)).toEqual({ sheets: ['Sheet 1'], rows: [{ line: 1, cells: ['a', 'b', 'c'] }] });
  });

  it('without a sheet, or with a cell that never ends, is refused in words', async () => {
    await expect(read(`${HEAD}</Workbook>`)).rejects.toThrow(/no sheet/);
    const endless = `${HEAD}<Worksheet><Table><Row><Cell><Data>${'x'.repeat(1_100_000)}`;
    await expect(read(endless, { size: 65_536 })).rejects.toThrow(UnreadableFile);
  });

  it('never stops at anything else', async () => {
    const piece = fc.constantFrom(
      ...['<Worksheet>', '</Worksheet>', '<Row>', '</Row>', '<Row ss:Index="2">', '<Cell ss:MergeDown="2">'],
      ...[
        '<Cell ss:Index="3">',
        '</Cell>',
        '<Data ss:Type="Number">',
        '</Data>',
        '<Comment>',
        'x',
        '<',
        '&amp',
        ']]>',
      ],
    );
    await fc.assert(
      fc.asyncProperty(fc.array(piece, { maxLength: 40 }), async (pieces) => {
        const { rows } = await read(`<Worksheet>${pieces.join('')}`);
        for (const [i, { line }] of rows.entries()) if (i > 0) expect(line).not.toBe(rows[i - 1]!.line);
      }),
    );
  });
});
