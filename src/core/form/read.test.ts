import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readFilledIn, shownFields } from './read';

const CONTEXT = { today: '2026-11-24', order: 'month-day', partial: null, country: 'US' } as const;
const OWN = [
  { key: 'born', label: 'Birthday', kind: 'date' as const, options: [] },
  { key: 'days', label: 'Days', kind: 'several-of' as const, options: ['Fri', 'Sat'] },
  { key: 'heard', label: 'Heard', kind: 'text' as const, options: [] },
];
const fields = shownFields(
  ['number', 'name', 'email', 'postal_code', 'own.born', 'own.days', 'own.heard', 'own.gone'].map(
    (field) => ({
      field,
      required: field === 'number',
    }),
  ),
  OWN,
);
const read = (typed: Record<string, string>) => readFilledIn(fields, typed, CONTEXT);

describe('what was filled in', () => {
  it('is kept field by field, and what the workspace has no more is not asked', () => {
    expect(fields.map(({ field }) => field)).not.toContain('own.gone');
    expect(
      read({
        ...{ number: '303 555 0100', name: 'an nguyen', email: 'An@Example.org', postal_code: '81201' },
        ...{ 'own.born': '1990-05-05', 'own.days': 'Sat\nFri', 'own.heard': 'What a night?' },
      }),
    ).toEqual({
      filled: {
        number: '+13035550100',
        values: [
          ['first_name', 'An'],
          ['last_name', 'Nguyen'],
          ['email', 'an@example.org'],
          ['postal_code', '81201'],
          ['own.born', '1990-05-05'],
          ['own.days', ['Fri', 'Sat']],
          ['own.heard', 'What a night?'],
        ],
      },
      problems: {},
    });
  });

  it.each([
    ['number', '', 'empty'],
    ['number', '12', 'number'],
    ['number', '+44 20 7946 0018', 'number-country'],
    ['name', 'Ana 7', 'name'],
    ['email', 'ana', 'email'],
    ['postal_code', '8120', 'postal_code'],
    ['own.born', 'May 5', 'date'],
    ['own.days', 'Sun', 'choice'],
    ['own.heard', 'x'.repeat(900), 'too-long'],
  ])('%s %j: %s', (field, text, code) =>
    expect(read({ number: '3035550100', [field]: text }).problems).toEqual({ [field]: code }),
  );

  it('comes to an end with anything at all, and takes names as they are written', () => {
    fc.assert(
      fc.property(
        fc.dictionary(fc.constantFrom(...fields.map(({ field }) => field)), fc.string()),
        (typed) => {
          const { filled, problems } = read(typed);
          for (const [field] of filled.values) expect(problems).not.toHaveProperty(field);
        },
      ),
    );
    for (const name of ['O’Neill', 'The Anh', 'Yes Lee', 'van der Berg, Jan', 'Ми́ла'])
      expect(read({ number: '3035550100', name }).problems).toEqual({});
  });
});
