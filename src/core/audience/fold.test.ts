import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fold } from './fold';

describe('folding', () => {
  it.each([
    ['ABC', 'abc'],
    ['ŁUCJA', 'łucja'],
    ['İ', 'i'],
    ['ΣΊΣΥΦΟΣ', 'σίσυφοσ'],
    ['ẞ', 'ß'],
    ['🙂', '🙂'],
  ])('%s is %s', (text, folded) => expect(fold(text)).toBe(folded));

  it('does nothing the second time', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => void expect(fold(fold(text))).toBe(fold(text))),
    );
  });
});
