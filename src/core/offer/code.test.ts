import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeCode, parseCode, showCode } from './code';

const bytes = fc.uint8Array({ minLength: 5, maxLength: 5 });
const codes = bytes.map(makeCode);
const ALPHABET = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';

describe('the code of a voucher', () => {
  it('holds all 40 bits: different chance, different code', () =>
    fc.assert(
      fc.property(bytes, bytes, (one, other) => {
        expect(makeCode(one) === makeCode(other)).toBe(Buffer.compare(one, other) === 0);
      }),
    ));

  it('is read as people type it, and out of its link', () =>
    fc.assert(
      fc.property(codes, (code) => {
        const typed = [
          showCode(code),
          showCode(code).toLowerCase(),
          ` ${[...code].join(' ')} `,
          code.replaceAll('0', 'o').replaceAll('1', 'l'),
          code.replaceAll('1', 'I'),
          `https://sky.example/v/${code}`,
          `HTTPS://SKY.EXAMPLE/v/${code}?x=1`,
        ];
        for (const one of typed) expect(parseCode(one)).toEqual({ ok: true, value: code });
      }),
    ));

  it('finds any one wrong character', () =>
    fc.assert(
      fc.property(codes, fc.nat(8), fc.constantFrom(...ALPHABET), (code, at, char) => {
        fc.pre(code[at] !== char);
        expect(parseCode(code.slice(0, at) + char + code.slice(at + 1)).ok).toBe(false);
      }),
    ));

  it.each([
    ['', 'code-empty'],
    ['  - ', 'code-empty'],
    ['7KQ3-M9T2', 'code-length'],
    ['7KQ3-M9T2W7', 'code-length'],
    ['7KQ3-M9T2U', 'code-letters'],
    ['НЕLLO-1234', 'code-letters'],
    ["'; drop table", 'code-letters'],
  ])('says what is wrong with %j', (typed, reason) =>
    expect(parseCode(typed)).toEqual({ ok: false, reason }),
  );
});
