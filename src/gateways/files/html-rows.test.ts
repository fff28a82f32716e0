import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { UnreadableFile } from './detect';
import { htmlRows } from './html-rows';

async function read(page: string, size = page.length || 1): Promise<{ line: number; cells: string[] }[]> {
  const pieces = async function* () {
    for (let i = 0; i < page.length; i += size) yield page.slice(i, i + size);
  };
  const rows: { line: number; cells: string[] }[] = [];
  for await (const some of htmlRows(pieces())) rows.push(...some);
  return rows;
}
const cells = async (page: string, size?: number) => (await read(page, size)).map((row) => row.cells);

const PEOPLE = [
  ['Name', 'Phone'],
  ['Ana', '1'],
  ['Ben & Cy', '2'],
];

describe('the tables of a web page', () => {
  it.each<[string, string]>([
    [
      'in full',
      `<!DOCTYPE html><html><head><style>td { color: red }</style><script>if (1 < 2) "<td>x</td>"</script></head>
       <body><h1>Visitors</h1><table><thead><tr><th>Name</th><th>Phone</th></tr></thead>
       <tbody><tr><td>Ana</td><td>1</td></tr><tr><td>Ben &amp; Cy</td><td>2</td></tr></tbody></table></body></html>`,
    ],
    ['without end tags', '<TABLE><TR><TH>Name<TH>Phone<TR><TD>Ana<TD>1<TR><TD>Ben &amp; Cy<TD>2</TABLE>'],
    [
      'as an office program writes it',
      `<html xmlns:x="urn:x"><table><col width=64><tr height=20><td class=xl65>Name</td><td x:str>Phone</td></tr>
       <tr><td><font face="Arial">Ana</font></td><td x:num="1">1</td></tr><!--[if gte mso 9]><xml></xml><![endif]-->
       <tr><td>Ben&nbsp;&amp;<br>Cy</td><td> 2&#160;</td></tr></table></html>`,
    ],
    ['that is not closed', '<table><tr><td>Name<td>Phone</tr><tr><td>Ana<td>1<tr><td>Ben &amp; Cy</td><td>2'],
  ])('%s', async (_, page) => {
    expect(await cells(page)).toEqual(PEOPLE);
    for (const size of [1, 2, 3, 7, 64]) expect(await cells(page, size)).toEqual(PEOPLE);
  });

  it('keep their columns where cells reach over several', async () => {
    const page = `<table><tr><td colspan=3>Visitor export 2026</td></tr><tr><td></td></tr>
      <tr><td rowspan=2>Denver</td><td>Ana</td><td>1</td></tr><tr><td>Ben</td><td>2</td></tr>
      <tr><td>Pueblo</td><td colspan=2>Cy</td></tr></table>`;
    expect(await read(page)).toEqual([
      { line: 1, cells: ['Visitor export 2026', '', ''] },
      { line: 3, cells: ['Denver', 'Ana', '1'] },
      { line: 4, cells: ['Denver', 'Ben', '2'] },
      { line: 5, cells: ['Pueblo', 'Cy', ''] },
    ]);
  });

  it('within a cell give rows of their own', async () => {
    const page =
      '<table><tr><td>Frame<table><tr><td>Ana<td>1</table></td></tr></table><table><tr><td>Ben<td>2</table>';
    expect(await cells(page)).toEqual([['Ana', '1'], ['Frame'], ['Ben', '2']]);
  });

  it('believe no cell that reaches over thousands', async () => {
    expect(await cells('<table><tr><td colspan=99999999>a<td rowspan=-1>b<td colspan=x>c</table>')).toEqual([
      ['a', 'b', 'c'],
    ]);
  });

  it('are missed in words', async () => {
    for (const page of [
      '<html><p>Sign in</p></html>',
      '<table></table>',
      '<table><tr><td> </td></tr></table>',
    ])
      await expect(read(page)).rejects.toThrow(/web page without a table/);
    await expect(read(`<table><tr><td>${'x'.repeat(1_100_000)}`, 65_536)).rejects.toThrow(UnreadableFile);
  });

  it('give back what was written into them, however it is cut', async () => {
    const word = fc.stringMatching(/^[a-z<>&"' ]{0,12}$/).map((text) => text.replace(/\s+/g, ' ').trim());
    const escaped = (text: string) => text.replace(/[<>&"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(word, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 6 }),
        fc.integer({ min: 1, max: 40 }),
        async (rows, size) => {
          const kept = rows.filter((row) => row.some((text) => text !== ''));
          fc.pre(kept.length > 0);
          const page = `<table>${rows.map((row) => `<tr>${row.map((text) => `<td>${escaped(text)}</td>`).join('')}</tr>`).join('\n')}</table>`;
          expect(await cells(page, size)).toEqual(kept);
        },
      ),
    );
  });

  it('never stop at anything else', async () => {
    const piece = fc.constantFrom(
      '<table>',
      '</table>',
      '<tr>',
      '</tr>',
      '<td rowspan=3>',
      '<td colspan=2>',
      '</td>',
      'x',
      '<',
      '>',
      '<script>',
      '</script>',
      '<!--',
      '-->',
      '&amp',
      '<td',
    );
    await fc.assert(
      fc.asyncProperty(fc.array(piece, { maxLength: 40 }), async (pieces) => {
        const rows = await read(pieces.join('')).catch((error: unknown) => {
          if (error instanceof UnreadableFile) return [];
          throw error;
        });
        for (const [i, { line, cells: row }] of rows.entries()) {
          expect(line).toBeGreaterThan(rows[i - 1]?.line ?? 0);
          expect(row.every((cell) => typeof cell === 'string')).toBe(true);
        }
      }),
    );
  });
});
