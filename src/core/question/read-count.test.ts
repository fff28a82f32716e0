import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countIn } from './read-count';

describe('a number in a reply', () => {
  it.each([
    ['twenty-one', '21'],
    ['there are Ninety Nine of us', '99'],
    ['thirty', '30'],
    ['10k', '10000'],
    ['about 2.5 k', '2500'],
    ['two dozen', '24'],
    ['una docena', '12'],
    ['tres', '3'],
    ['nous sommes quatre', '4'],
    ['4 (four)', '4'],
    ['5, and thanks', '5'],
    ['12.5', '12.5'],
  ])('%j is %s', (said, number) => expect(countIn(said)).toBe(number));

  it.each([
    ...[
      'me + 3',
      'my wife and 2 kids',
      'between 2 and 4',
      'five or six',
      'a couple hundred',
      'one hundred',
      '1.200',
    ],
    ...['5 and a half', 'once', 'someone', 'no idea', ''],
  ])('%j is none that is surely meant', (said) => expect(countIn(said)).toBeNull());

  it('is found whatever small number is written in figures', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 99_999 }), (n) => {
        expect(countIn(`we are ${n}`)).toBe(String(n));
      }),
    );
  });
});
