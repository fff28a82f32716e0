import fc from 'fast-check';
import { split } from 'split-sms';
import { splitGraphemes } from 'unicode-segmenter/grapheme';
import { describe, expect, it } from 'vitest';
import { encodeGsm7, fitsGsm7 } from './gsm7';
import { measure, splitParts } from './measure';

const a = (n: number) => 'a'.repeat(n);

describe('measure', () => {
  it.each([
    ['empty', '', 'GSM-7', 0, 0],
    ['one full part', a(160), 'GSM-7', 160, 1],
    ['one septet more', a(161), 'GSM-7', 161, 2],
    ['two full parts', a(306), 'GSM-7', 306, 2],
    ['one more than two', a(307), 'GSM-7', 307, 3],
    ['euro costs two', '€', 'GSM-7', 2, 1],
    ['159 and a euro', a(159) + '€', 'GSM-7', 161, 2],
    ['158 and a euro', a(158) + '€', 'GSM-7', 160, 1],
    ['every extension character', '^{}\\[~]|€\f', 'GSM-7', 20, 1],
    ['default table accents', 'éèùìòÇØøÅåÄÖÑÜäöñüàß', 'GSM-7', 20, 1],
    ['small c cedilla', 'ç', 'UCS-2', 1, 1],
    ['curly apostrophe', 'it’s', 'UCS-2', 4, 1],
    ['backtick', '`', 'UCS-2', 1, 1],
    ['70 in UCS-2', 'ł'.repeat(70), 'UCS-2', 70, 1],
    ['71 in UCS-2', 'ł'.repeat(71), 'UCS-2', 71, 2],
    ['134 in UCS-2', 'ł'.repeat(134), 'UCS-2', 134, 2],
    ['135 in UCS-2', 'ł'.repeat(135), 'UCS-2', 135, 3],
    ['an emoji is two units', '😀', 'UCS-2', 2, 1],
    ['a family of four is eleven', '👨‍👩‍👧‍👦', 'UCS-2', 11, 1],
    ['a flag is four', '🇺🇸', 'UCS-2', 4, 1],
  ])('%s', (_, text, alphabet, units, parts) => {
    expect(measure(text)).toMatchObject({ alphabet, units, parts });
  });

  it('moves an escape pair whole to the next part, which can cost a part', () => {
    // 153 septets are full only without the pair: 152 + 2 does not fit.
    const text = a(152) + '€' + a(151) + '€' + a(10);
    expect(splitParts(text).parts.map((part) => part.length)).toEqual([152, 152, 11]);
    // Plain division says 2 parts of 153 for 306 septets; the pairs at both borders make it 3.
    expect(measure(a(152) + '€' + a(150) + '€')).toMatchObject({ units: 306, parts: 3 });
    expect(measure(a(152) + '€'.repeat(77)).parts).toBe(3);
  });

  it('keeps a grapheme whole where it fits, a surrogate pair always', () => {
    const { parts } = splitParts('ł'.repeat(66) + '😀' + 'ł'.repeat(10));
    expect(parts.map((part) => part.length)).toEqual([66, 12]);
    const family = '👨‍👩‍👧‍👦';
    expect(splitParts('ł'.repeat(60) + family + 'ł'.repeat(5)).parts[1]!.startsWith(family)).toBe(true);
  });

  it('counts one unit less per part with a 16-bit reference', () => {
    expect(measure(a(305), 16)).toMatchObject({ parts: 3, unitsPerPart: 152 });
    expect(measure('ł'.repeat(133), 16)).toMatchObject({ parts: 3, unitsPerPart: 66 });
  });

  it('names the characters that make it UCS-2, once each', () => {
    expect(measure('“Łódź” “x”').outside).toEqual(['“', 'Ł', 'ó', 'ź', '”']);
  });

  it('agrees with an independent splitter', () => {
    const char = fc.constantFrom(...'abcdefgh XYZ0123é€{}[]^~|\\łж’😀🇺🇸'.split(/(?:)/u));
    fc.assert(
      fc.property(fc.array(char, { minLength: 1, maxLength: 400 }), (chars) => {
        const text = chars.join('');
        const oracle = split(text);
        const ours = measure(text);
        expect(ours.alphabet === 'GSM-7').toBe(oracle.characterSet === 'GSM');
        // The oracle cuts graphemes; keeping them whole can only need more room.
        if (ours.alphabet === 'GSM-7') expect(ours.parts).toBe(oracle.parts.length);
        else expect(ours.parts).toBeGreaterThanOrEqual(oracle.parts.length);
      }),
      { numRuns: 300 },
    );
  });

  it('splits into parts that join to the text and hold no more than they may', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 500 }), (text) => {
        const { alphabet, parts } = splitParts(text);
        expect(parts.join('')).toBe(text);
        expect(parts.length).toBe(measure(text).parts);
        const most = parts.length === 1 ? { 'GSM-7': 160, 'UCS-2': 70 } : { 'GSM-7': 153, 'UCS-2': 67 };
        for (const part of parts) {
          const units = alphabet === 'GSM-7' ? encodeGsm7(part).length : part.length;
          expect(units).toBeLessThanOrEqual(most[alphabet]);
          if (part.length > 0) expect(part).not.toMatch(/^[\udc00-\udfff]|[\ud800-\udbff]$/);
        }
      }),
      { numRuns: 500 },
    );
  });

  it('says of graphemes what a walk over all of them says', () => {
    const knotty = [
      ...['a', 'é', 'ł', '’', '€', '\r', '\n', '\r\n', '\u0301', '\u200d', '👨', '👩‍👩‍👧', '🇺🇸', '🇺', '👍🏽', 'が'],
      ...['\u3099', 'ᄀ', 'ᅡ', 'ก', 'ำ', 'क', '्', 'ष', '\ud800', '\udc00', '\u0600', '©', '\ufe0f'],
      ...['\u0301'.repeat(80), 'e\u200d'.repeat(40)],
    ];
    const unit = fc.oneof(
      fc.constantFrom(...knotty),
      fc.integer({ min: 0, max: 0x2100 }).map((code) => String.fromCharCode(code)),
    );
    const text = fc.array(unit, { maxLength: 300 }).map((units) => units.join(''));
    fc.assert(
      fc.property(text, fc.constantFrom(8 as const, 16 as const), (text, reference) => {
        const { alphabet, outside } = measure(text, reference);
        if (alphabet === 'GSM-7') return;
        const clusters = [...splitGraphemes(text)];
        expect(outside).toEqual([...new Set(clusters.filter((cluster) => !fitsGsm7(cluster)))]);
        expect(splitParts(text, reference).parts).toEqual(filled(clusters, reference === 8 ? 67 : 66));
      }),
      { numRuns: 2_000 },
    );
  });
});

/** Parts filled one grapheme after the other; one longer than a part, by its code points. */
function filled(clusters: readonly string[], capacity: number): string[] {
  const text = clusters.join('');
  if (text.length <= 70) return text === '' ? [] : [text];
  const parts = [''];
  for (const cluster of clusters)
    for (const piece of cluster.length > capacity ? [...cluster] : [cluster])
      if (parts.at(-1)!.length + piece.length > capacity) parts.push(piece);
      else parts[parts.length - 1] += piece;
  return parts;
}
