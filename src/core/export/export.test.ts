import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { readCard } from '../import/vcard';
import { csvLine, harmless } from './csv';
import { writeCard, type Card } from './vcard';

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

describe('cards', () => {
  const card: Card = {
    numbers: ['+13035550123', '+13035550124'],
    firstName: 'Łucja; "the" one',
    lastName: 'Ortiz, Nowak',
    emails: ['ana@example.org', 'lucja@example.org'],
    region: 'CO',
    postalCode: '81201',
    tags: ['walks', 'a, b'],
  };

  it('are read back by our own reader', () => {
    expect(readCard(writeCard(card))).toEqual([
      'Łucja; "the" one',
      'Ortiz, Nowak',
      '+13035550123',
      'ana@example.org',
      'CO',
      '81201',
      'walks, a, b',
      '',
      '+13035550124; lucja@example.org',
    ]);
  });

  it('of a number alone are whole', () => {
    const text = writeCard({
      numbers: ['+13035550123'],
      firstName: null,
      lastName: null,
      emails: [],
      region: null,
      postalCode: null,
      tags: [],
    });
    expect(text).toContain('FN:+13035550123');
    expect(readCard(text)![2]).toBe('+13035550123');
  });

  it('have no line longer than 75 octets, and no letter cut', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', minLength: 60, maxLength: 200 }), (name) => {
        const text = writeCard({ ...card, firstName: name.replaceAll(/[\r\n\uFFFD]/g, ' ') });
        for (const line of text.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
        expect(text).not.toContain('\uFFFD');
      }),
    );
  });
});
