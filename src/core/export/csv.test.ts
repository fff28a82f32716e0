import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { csvLine, harmless } from './csv';

describe('CSV', () => {
  it.each([
    ['=1+1', "'=1+1"],
    ['+cmd|x', "'+cmd|x"],
    ['-2+3', "'-2+3"],
    ['@SUM(A1)', "'@SUM(A1)"],
    ['\t=1', "'\t=1"],
    ['  =1', "'  =1"],
    ['+13035550123', '+13035550123'],
    ['-12.5', '-12.5'],
    ['Ana', 'Ana'],
    ['a=b', 'a=b'],
  ])('%j is written as %j', (cell, written) => expect(harmless(cell)).toBe(written));

  it('leaves phone columns as they are, and is read back as it was', () => {
    expect(csvLine(['=x', '+1 303'], [1])).toBe("'=x,+1 303\r\n");
    fc.assert(
      fc.property(fc.array(fc.string(), { minLength: 1, maxLength: 6 }), (cells) => {
        const [back] = Papa.parse<string[]>(
          csvLine(
            cells,
            cells.map((_, i) => i),
          ),
          { delimiter: ',' },
        ).data;
        expect(back).toEqual(cells);
      }),
    );
  });

  it('never writes a cell a spreadsheet would run', () => {
    fc.assert(
      fc.property(fc.string(), (cell) => {
        const written = harmless(cell);
        if (/^\s*[=+\-@]/.test(written)) expect(written).toMatch(/^[+-]?\d[\d .]*$/);
      }),
    );
  });
});
