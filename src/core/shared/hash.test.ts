import { describe, expect, it } from 'vitest';
import { byLot, hashOf } from './hash';

describe('a hash of words', () => {
  it('is the same for the same words, and falls evenly where words differ in their last letter', () => {
    expect(hashOf('wren')).toBe(hashOf('wren'));
    const lots = Array.from({ length: 1_000 }, (_, i) => hashOf(`per_${i}`) % 10);
    for (let lot = 0; lot < 10; lot++) {
      const drawn = lots.filter((one) => one === lot).length;
      expect(drawn).toBeGreaterThan(60);
      expect(drawn).toBeLessThan(140);
    }
  });

  it('puts ids in an order that does not follow theirs, and is the same whichever way they come', () => {
    const ids = Array.from({ length: 200 }, (_, i) => `enr_${String(i).padStart(6, '0')}`);
    const drawn = byLot(ids);
    expect(byLot([...ids].reverse())).toEqual(drawn);
    expect([...drawn].sort()).toEqual(ids);
    const early = drawn.slice(0, 50).filter((id) => id < 'enr_000100').length;
    expect(early).toBeGreaterThan(12);
    expect(early).toBeLessThan(38);
  });
});
