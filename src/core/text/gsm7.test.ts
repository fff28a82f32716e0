import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeGsm7, encodeGsm7, fitsGsm7 } from './gsm7';

describe('the GSM 7-bit alphabet', () => {
  it('reads back what it writes', () => {
    const char = fc.constantFrom(
      ...'@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !"#¤%&\'()*+,-./09:;<=>?¡AZÄÖÑÜ§¿azäöñüà^{}\\[~]|€\f',
    );
    fc.assert(
      fc.property(fc.array(char), (chars) => {
        expect(decodeGsm7(encodeGsm7(chars.join('')))).toBe(chars.join(''));
      }),
    );
  });

  it('refuses what it cannot write', () => {
    expect(() => encodeGsm7('ł')).toThrow(RangeError);
    expect(fitsGsm7('ł')).toBe(false);
  });

  it('shows an unknown extension code as its default character', () => {
    expect(decodeGsm7(Uint8Array.from([0x1b, 0x41]))).toBe('A');
  });
});
