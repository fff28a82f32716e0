import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { answeredId, meaningsOf, sameId } from './carrier-id';

describe('the id of a receipt', () => {
  it.each([
    ['0A1F', 'the same', 'a1f'],
    ['0000002591', 'decimal of hexadecimal', 'a1f'],
    ['A1F', 'hexadecimal of decimal', '2591'],
    ['a1f', 'decimal of hexadecimal', null],
    ['text-7', 'hexadecimal of decimal', null],
    [' Qx81Z ', 'the same', 'Qx81Z'],
    ['0000', 'the same', '0'],
    ['12345678901234567890123', 'decimal of hexadecimal', '29d42b64e76714244cb'],
  ] as const)('%s, %s, was %s in the answer', (told, ids, id) => expect(answeredId(told, ids)).toBe(id));

  it('is found again whatever the carrier does to it', () => {
    const answered = fc.bigInt({ min: 1n, max: 2n ** 64n });
    fc.assert(
      fc.property(answered, fc.boolean(), fc.boolean(), (n, hexadecimal, capital) => {
        const hex = capital ? n.toString(16).toUpperCase() : n.toString(16);
        const [answer, told] = hexadecimal ? [hex, n.toString()] : [n.toString(), hex];
        const meant = meaningsOf(told.padStart(20, '0')).map(({ id }) => id);
        expect(meant).toContain(sameId(answer));
      }),
    );
  });

  it('means itself where it is a name', () =>
    expect(meaningsOf('wren/7')).toEqual([{ ids: 'the same', id: 'wren/7' }]));
});
