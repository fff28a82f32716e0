import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { contrast, inkOn, isColour, READABLE, readableOn } from './colour';

const colour = fc
  .integer({ min: 0, max: 0xffffff })
  .map((value) => `#${value.toString(16).padStart(6, '0')}`);

describe('colours', () => {
  it('stand apart as the rule says', () => {
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5);
    expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.48, 2);
    expect(contrast('#8c3a1c', '#8c3a1c')).toBe(1);
  });

  it('are always read on their ground, and on themselves', () => {
    fc.assert(
      fc.property(colour, colour, (one, ground) => {
        expect(contrast(readableOn(one, ground), ground)).toBeGreaterThanOrEqual(READABLE);
        expect(contrast(inkOn(one), one)).toBeGreaterThanOrEqual(READABLE);
      }),
    );
  });

  it('stay what they are where they are read already', () => {
    expect(readableOn('#8c3a1c', '#f6f2e9')).toBe('#8c3a1c');
  });

  it.each(['#fff', 'red', '#12345g', '#1234567', ''])('%j is none', (text) =>
    expect(isColour(text)).toBe(false),
  );
});
