import { describe, expect, it } from 'vitest';
import { areasWanted, digitsOf } from './stock';

describe('digits', () => {
  it.each([
    ['STAR', '7827'],
    ['555 01', '55501'],
    ['(719)', '719'],
    ['', null],
    ['é!', null],
    ['skY-1', '7591'],
  ])('of %s are %s', (typed, digits) => expect(digitsOf(typed)).toBe(digits));
});

describe('areas', () => {
  it('come with the most people first who know none of our numbers', () =>
    expect(
      areasWanted(
        [
          { area: '719', people: 900 },
          { area: '303', people: 120 },
          { area: '505', people: 300 },
          { area: '999', people: 4_000 },
        ],
        ['+17195550110', '55501'],
      ),
    ).toEqual([
      { area: '505', region: 'NM', people: 300, known: false },
      { area: '303', region: 'CO', people: 120, known: false },
      { area: '719', region: 'CO', people: 900, known: true },
    ]));
});
