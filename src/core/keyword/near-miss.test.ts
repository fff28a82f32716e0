import { describe, expect, it } from 'vitest';
import { closestKeywords } from './near-miss';

describe('near misses', () => {
  it('are near only within one slip, two for long ones', () => {
    const keywords = ['sky', 'dome', 'meteor', 'constellation'];
    const near = (text: string) => closestKeywords(text, keywords)[0] ?? null;
    expect([
      near('dmoe'),
      near('dom'),
      near('domes'),
      near('doom'),
      near('metor'),
      near('metr'),
      near('constelation'),
      near('consttelation x'),
    ]).toEqual(['dome', 'dome', 'dome', null, 'meteor', null, 'constellation', 'constellation']);
  });

  it('are told apart from those that are as near to several', () => {
    expect(closestKeywords('mateor', ['meteor', 'moteor', 'sky'])).toEqual(['meteor', 'moteor']);
    expect(closestKeywords('meteors', ['meteor', 'moteor', 'sky'])).toEqual(['meteor']);
  });
});
