import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitText, type Measure } from './fit';

/** Every letter is half as wide as it is high. */
const measure: Measure = (text) => [...text].length / 2;
const room = { width: 100, height: 40, most: 20, least: 2, leading: 1.2, face: 'body' as const };

describe('a text in its box', () => {
  it('is set as large as it goes, and no larger than it may be', () => {
    expect(fitText('Sky', room, measure)).toEqual({ size: 20, lines: ['Sky'], fits: true });
    const long = fitText('Clear skies over the gap tonight and tomorrow', room, measure);
    expect(long.fits).toBe(true);
    expect(long.size).toBeLessThan(20);
    expect(long.lines.length).toBeGreaterThan(1);
  });

  it('keeps together what a space holds together, and breaks where its writer breaks', () => {
    const { lines } = fitText('Text SKY to (719)\u00a0555-0110', { ...room, height: 60 }, measure);
    expect(lines.some((line) => line.includes('(719)\u00a0555-0110'))).toBe(true);
    expect(fitText('one\ntwo', room, measure).lines).toEqual(['one', 'two']);
  });

  it('says when it does not fit even small', () =>
    expect(fitText('x'.repeat(5_000), room, measure).fits).toBe(false));

  it('never loses a word, and stands in its box whenever it says so', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 200 }),
        fc.integer({ min: 20, max: 300 }),
        fc.integer({ min: 10, max: 200 }),
        (text, width, height) => {
          const { size, lines, fits } = fitText(text, { ...room, width, height }, measure);
          const letters = (words: string) => words.replace(/[ \t\n]/g, '');
          expect(letters(lines.join(''))).toBe(letters(text));
          if (!fits) return;
          expect(lines.length * size * room.leading).toBeLessThanOrEqual(height + 0.001);
          for (const line of lines) expect(measure(line, 'body') * size).toBeLessThanOrEqual(width + 0.001);
        },
      ),
    );
  });
});
