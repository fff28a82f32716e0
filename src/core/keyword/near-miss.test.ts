import { describe, expect, it } from 'vitest';
import { closestKeyword } from './near-miss';

describe('near misses', () => {
  it('are near only within one slip, two for long ones', () => {
    const keywords = ['sky', 'dome', 'meteor', 'constellation'];
    const near = (text: string) => closestKeyword(text, keywords);
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
});
