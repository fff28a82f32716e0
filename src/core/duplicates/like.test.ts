import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { likeNames, likePairs } from './like';

const name = (text: string) => {
  const [first = null, last = null] = text.split('|');
  return { first: first || null, last: last || null };
};

describe('names', () => {
  it.each([
    ['Ana|Ortiz', 'ana|ORTIZ', true],
    ['Ana|Ortiz', 'Ortiz|Ana', true],
    ['Łucja|Nowak', 'Łucja|Nowák', true],
    ['Ana|Ortiz', 'A.|Ortiz', true],
    ['Katherine|Holloway', 'Katharine|Holloway', true],
    ['Katherine|Holloway', 'Kathrine|Holloway', true],
    ["D'Arcy|Lee", 'DArcy|Lee', true],
    ['Ana|Ortiz', 'Eva|Ortiz', false],
    ['Ana|Ortiz', 'Ana|Farrow', false],
    ['Ana|', 'Ana|', false],
    ['Ana Maria|Ortiz', 'Ana|Ortiz', false],
    ['|', '|', false],
    ['Mark|Hill', 'Marc|Hall', false],
  ])('%s and %s: %s', (a, b, like) => expect(likeNames(name(a), name(b))).toBe(like));

  it('are alike both ways, and each is like itself', () => {
    const word = fc.string({ unit: fc.constantFrom('a', 'b', 'é', 'Z'), minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(word, word, word, word, (a, b, c, d) => {
        const [one, other] = [
          { first: a, last: b },
          { first: c, last: d },
        ];
        expect(likeNames(one, other)).toBe(likeNames(other, one));
        expect(likeNames(one, one)).toBe(true);
      }),
    );
  });
});

describe('pairs of one place', () => {
  const people = (...names: string[]) => names.map((text, i) => ({ id: `p${i}`, ...name(text) }));

  it('are those with like names, the lower id first, each once', () => {
    expect(likePairs(people('Ana|Ortiz', 'Ben|Hill', 'ORTIZ|Ána', 'Ben|Moss', 'A.|Ortiz'))).toEqual([
      ['p0', 'p2'],
      ['p0', 'p4'],
      ['p2', 'p4'],
    ]);
  });

  it('are none of names of one word', () => {
    expect(likePairs(people('Ana|', 'Ana|', '|Ana', '|'))).toEqual([]);
  });

  it('are what comparing everybody with everybody gives', () => {
    const word = fc.constantFrom(
      'ana',
      'anna',
      'A',
      'Ortiz',
      'Ortis',
      'Hill',
      'Katherine',
      'Katharine',
      'Dé',
      '',
    );
    fc.assert(
      fc.property(fc.array(fc.record({ first: word, last: word }), { maxLength: 14 }), (names) => {
        const some = names.map((one, i) => ({ ...one, id: `p${String(i).padStart(2, '0')}` }));
        const all = some.flatMap((one, i) =>
          some.slice(i + 1).flatMap((other) => (likeNames(one, other) ? [[one.id, other.id]] : [])),
        );
        expect(likePairs(some).sort()).toEqual(all.sort());
      }),
      { numRuns: 300 },
    );
  });

  it('are not looked for by a word that hundreds share, but by the other one', () => {
    const many = Array.from({ length: 600 }, (_, i) => ({
      id: `m${i}`,
      first: 'Maria',
      last: `Name${i}xyz`,
    }));
    const twice = { id: 'z', first: 'María', last: 'Name7xyz' };
    expect(likePairs([...many, twice])).toEqual([['m7', 'z']]);
  });
});
