import { describe, expect, it } from 'vitest';
import { countIn, emptyTally, scaledTo } from './tally';

const NOTHING = { more: 0, fewer: 0, losesNext: false, ends: false, shifts: false };

describe('what a version does to many', () => {
  it('counts a person under each thing that changes for them, and as the same only where nothing does', () => {
    const tally = emptyTally();
    countIn(tally, 'per_1', { ...NOTHING, more: 2, shifts: true });
    countIn(tally, 'per_2', { ...NOTHING, losesNext: true, fewer: 1 });
    countIn(tally, 'per_3', NOTHING);
    expect(tally).toMatchObject({
      ...{ counted: 3, same: 1 },
      more: { people: 1, examples: ['per_1'] },
      shifts: { people: 1, examples: ['per_1'] },
      losesNext: { people: 1, examples: ['per_2'] },
      ends: { people: 0, examples: [] },
    });
    expect(scaledTo(tally, 3)).toEqual({ ...tally, people: 3 });
  });

  it('keeps fifty people behind a count, and counts the others', () => {
    const tally = emptyTally();
    for (let i = 0; i < 80; i++) countIn(tally, `per_${i}`, { ...NOTHING, ends: true });
    expect(tally.ends.people).toBe(80);
    expect(tally.ends.examples).toHaveLength(50);
  });

  it('of some says what all come to, and keeps how many it knows of', () => {
    const tally = emptyTally();
    for (let i = 0; i < 250; i++) countIn(tally, `per_${i}`, i % 5 === 0 ? { ...NOTHING, more: 1 } : NOTHING);
    expect(scaledTo(tally, 50_000)).toMatchObject({
      ...{ people: 50_000, counted: 250, same: 40_000 },
      more: { people: 10_000 },
    });
    expect(scaledTo(emptyTally(), 0)).toMatchObject({ people: 0, counted: 0, same: 0 });
  });
});
