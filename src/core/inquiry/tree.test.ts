import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isTooDeep, leavesOf, valueAt, type Tree } from './tree';

describe('a value in what came', () => {
  it.each<[what: string, tree: Tree, pointer: string, value: string]>([
    ['by name', { contact: { phone: '303 555 0101' } }, '/contact/phone', '303 555 0101'],
    ['in another case', { Contact: { PHONE: 'x' } }, '/contact/phone', 'x'],
    ['with a slash and a tilde in its name', { 'a/b': { 'c~d': 'x' } }, '/a~1b/c~0d', 'x'],
    ['by place in a list', { people: ['a', 'b'] }, '/people/1', 'b'],
    ['a whole list', { days: ['Mon', 'Tue', null] }, '/days', 'Mon, Tue'],
    [
      'by the name of its entry',
      { fields: [{ name: 'email', value: 'a@b.test' }] },
      '/fields/email',
      'a@b.test',
    ],
    [
      'of an entry with a question',
      { answers: [{ question: 'How many?', answer: 12 }] },
      '/answers/How many?',
      '12',
    ],
    [
      'of an entry with several values',
      { data: [{ name: 'phone', values: ['1', '2'] }] },
      '/data/phone',
      '1, 2',
    ],
    ['that is a number', { n: 7 }, '/n', '7'],
    ['that is yes', { agreed: true }, '/agreed', 'yes'],
    ['that is not there', { a: 1 }, '/b/c', ''],
    ['that every object has, and this one does not', { a: 1 }, '/constructor', ''],
    [
      'by the name of its entry in another case',
      { fields: [{ name: 'Email', value: 'x' }] },
      '/fields/email',
      'x',
    ],
    ['that is more than a value', { a: { b: 1 } }, '/a', ''],
  ])('%s', (_, tree, pointer, value) => {
    expect(valueAt(tree, pointer)).toBe(value);
  });

  it('is found again by the pointer it is shown with, whatever it is called', () => {
    const { tree } = fc.letrec<{ tree: Tree }>((tie) => ({
      tree: fc.oneof(
        { maxDepth: 4 },
        fc.string().map((text) => text.trim()),
        fc.integer(),
        fc.array(tie('tree'), { maxLength: 3 }),
        fc.dictionary(fc.string({ minLength: 1 }), tie('tree'), { maxKeys: 3 }),
      ),
    }));
    fc.assert(
      fc.property(tree, (one) => {
        for (const { pointer, value } of leavesOf(one))
          if (pointer !== '') expect(valueAt(one, pointer)).toBe(value);
      }),
    );
  });

  it('is not looked for without end', () => {
    let deep: Tree = 'x';
    for (let i = 0; i < 10_000; i += 1) deep = [deep];
    expect(isTooDeep(deep)).toBe(true);
    expect(leavesOf(deep)).toEqual([]);
    expect(isTooDeep({ a: { b: [1, 2] } })).toBe(false);
  });
});
