import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readNameCell, type NameColumn } from './name-cell';

const whole = (cell: string) => {
  const { first, last } = readNameCell(cell, 'full_name');
  return [first, last];
};

describe('a whole name', () => {
  it.each([
    ['Ana Ortiz', ['Ana', 'Ortiz']],
    ['Ana María Ortiz', ['Ana María', 'Ortiz']],
    ['Ortiz, Ana', ['Ana', 'Ortiz']],
    ['Ana', ['Ana', null]],
    ['王小明', ['王小明', null]],
    ['Ana van der Berg', ['Ana', 'van der Berg']],
    ['Ana M. Ortiz', ['Ana', 'M. Ortiz']],
    ['Ortiz, Ana M.', ['Ana', 'M. Ortiz']],
    ['Ortiz Jr., Ben', ['Ben', 'Ortiz Jr.']],
    ['Ben Ortiz, Jr.', ['Ben', 'Ortiz Jr.']],
    ['Ben Ortiz III', ['Ben', 'Ortiz III']],
    ['Null, Ana', ['Ana', 'Null']],
    ['Li Na', ['Li', 'Na']],
    ['Jack Ma', ['Jack', 'Ma']],
    ['VI TRAN', ['Vi', 'Tran']],
    ['JACK MA', ['Jack', 'Ma']],
    ['BEN ORTIZ III', ['Ben', 'Ortiz III']],
    ['"Ana" Ortiz', ['Ana', 'Ortiz']],
    ['Ana Ortiz,', ['Ana', 'Ortiz']],
    ['(Ana)', ['(Ana)', null]],
  ])('%s is divided', (cell, names) => expect(whole(cell)).toEqual(names));

  it.each([
    ['ANA ORTIZ', ['Ana', 'Ortiz']],
    ['ana ortiz', ['Ana', 'Ortiz']],
    ["O'NEILL, SEAN", ['Sean', "O'Neill"]],
    ['ana van der berg', ['Ana', 'van der Berg']],
    ['Rae McDonald', ['Rae', 'McDonald']],
    ['Carlos das Neves', ['Carlos das', 'Neves']],
    ['OPAL REYES (mom)', ['Opal', 'Reyes']],
  ])('%s is written as a name is', (cell, names) => expect(whole(cell)).toEqual(names));

  it.each([
    ['Dr. Ana Ortiz, PhD', ['Ana', 'Ortiz'], ['Dr.', 'PhD']],
    ['Mr. and Mrs. Ortiz', [null, 'Ortiz'], ['Mr. and Mrs.']],
    ['Ms Ortiz', [null, 'Ortiz'], ['Ms']],
    ['Ana Ortiz MD', ['Ana', 'Ortiz'], ['MD']],
    ['Ana Ortiz (mom)', ['Ana', 'Ortiz'], ['(mom)']],
    ['Ana Ortiz - VIP', ['Ana', 'Ortiz'], ['- VIP']],
  ])('%s is told what was left out', (cell, names, left) => {
    expect(whole(cell)).toEqual(names);
    expect(readNameCell(cell, 'full_name').told).toEqual(
      left.map((one) => `“${one}” was left out of the name`),
    );
  });
});

describe('a cell for a name', () => {
  it.each([
    'N/A',
    'NULL',
    'none',
    'Unknown',
    '#N/A',
    '-',
    '.',
    '???',
    'First name',
    'ana@example.org',
    '(303) 555-0123',
    '🌙',
  ])('with %s holds none: nobody is greeted with it', (cell) => {
    for (const column of ['full_name', 'first_name', 'last_name'] as const)
      expect(readNameCell(cell, column)).toMatchObject({
        first: null,
        last: null,
        told: [expect.stringContaining('no name') as string],
      });
  });

  it('holds what its column says, and is as shouted as the names beside it', () => {
    expect(readNameCell('JO', 'first_name', 'JO ORTIZ')).toEqual({ first: 'Jo', last: null, told: [] });
    expect(readNameCell('JO', 'first_name')).toMatchObject({ first: 'JO' });
    expect(readNameCell('DE LA CRUZ', 'last_name', 'JO DE LA CRUZ')).toMatchObject({
      first: null,
      last: 'de la Cruz',
    });
    expect(readNameCell('van der Berg', 'last_name')).toMatchObject({ last: 'van der Berg' });
    expect(readNameCell('VAN', 'last_name', 'MAI VAN')).toMatchObject({ last: 'Van' });
    expect(readNameCell('Ana (mom)', 'first_name')).toMatchObject({ first: 'Ana' });
  });

  it('never holds an address, nothing empty, and nothing of the other column', () => {
    const word = fc.constantFrom(
      'Ana',
      'ORTIZ',
      'de',
      'Dr.',
      'Jr',
      '(mom)',
      'M.',
      ',',
      '-',
      'ana@example.org',
      '"Bo"',
      "O'Neill",
      '🌙',
      'n/a',
    );
    const cells = fc.oneof(
      fc.array(word, { maxLength: 6 }).map((words) => words.join(' ')),
      fc.string(),
    );
    fc.assert(
      fc.property(
        cells,
        fc.constantFrom<NameColumn>('full_name', 'first_name', 'last_name'),
        (cell, column) => {
          const { first, last } = readNameCell(cell, column);
          for (const part of [first, last]) {
            if (part === null) continue;
            expect(part.trim()).toBe(part);
            expect(part).not.toBe('');
            expect(part).not.toContain('@');
          }
          expect(column === 'first_name' ? last : column === 'last_name' ? first : null).toBeNull();
        },
      ),
    );
  });
});
