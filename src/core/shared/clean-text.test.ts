import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cleanText, cutText } from './clean-text';

describe('text from outside', () => {
  it.each([
    ['STOP', 'STOP'],
    ['ST\0OP', 'STOP'],
    ['half \ud83d', 'half \ufffd'],
    ['\udc1e half', '\ufffd half'],
    ['🐞 whole', '🐞 whole'],
    ['two\r\nlines\rthree', 'two\nlines\nthree'],
    ['bell\u0007 and \u0085next', 'bell and next'],
    ['tab\tstays', 'tab\tstays'],
  ])('%j is kept as %j', (raw, kept) => expect(cleanText(raw)).toBe(kept));

  it('is what JSON and back, and UTF-8 and back, leave as it is', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (raw) => {
        const clean = cleanText(raw);
        expect(clean.isWellFormed()).toBe(true);
        expect(Buffer.from(clean, 'utf8').toString('utf8')).toBe(clean);
        expect(cleanText(clean)).toBe(clean);
      }),
    );
  });
});

describe('cutting', () => {
  it.each([
    ['a'.repeat(499) + '🐞 and more', 500, 'a'.repeat(499)],
    ['👨‍👩‍👧‍👦 family', 5, '👨‍👩'],
    ['ab👨‍👩‍👧‍👦', 6, 'ab'],
    ['🇺🇸🇨🇦', 4, '🇺🇸'],
    ['cafe\u0301s', 4, 'caf'],
    ['short', 500, 'short'],
  ])('%j at %i is %j', (text, most, cut) => expect(cutText(text, most)).toBe(cut));

  it('never leaves half a pair and is a beginning', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.nat(60), (raw, most) => {
        const cut = cutText(raw, most);
        expect(cut.length).toBeLessThanOrEqual(most);
        expect(cut.isWellFormed()).toBe(true);
      }),
    );
  });
});
